import { useEffect, useRef, useState } from 'react';

/** Whether something is open that any button opens by an event of its name, and keys do wherever the focus is. */
export function useOpening(name: string, onKey: (event: KeyboardEvent, open: () => void) => void) {
  const [open, setOpen] = useState(false);
  const newest = useRef(onKey);
  newest.current = onKey;
  useEffect(() => {
    const show = () => setOpen(true);
    const keys = (event: KeyboardEvent) => newest.current(event, show);
    window.addEventListener(name, show);
    window.addEventListener('keydown', keys);
    return () => {
      window.removeEventListener(name, show);
      window.removeEventListener('keydown', keys);
    };
  }, [name]);
  return [open, setOpen] as const;
}
