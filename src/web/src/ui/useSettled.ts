import { useEffect, useState } from 'react';

const PAUSE = 250;

/** A value when it has not changed for a moment: for what is asked beside the tape, which goes first. */
export function useSettled(value: string): string {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = window.setTimeout(() => setSettled(value), PAUSE);
    return () => window.clearTimeout(timer);
  }, [value]);
  return settled;
}
