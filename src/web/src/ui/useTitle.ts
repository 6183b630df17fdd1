import { useEffect } from 'react';

/** The window says what is open in it. */
export function useTitle(words: string) {
  useEffect(() => {
    document.title = `${words} · Rapid Ledger`;
  }, [words]);
}
