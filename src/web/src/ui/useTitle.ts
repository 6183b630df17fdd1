import { useEffect } from 'react';

/** The window says what is open in it; without words, whatever else says it. */
export function useTitle(words: string | undefined) {
  useEffect(() => {
    if (words) document.title = `${words} · Rapid Ledger`;
  }, [words]);
}
