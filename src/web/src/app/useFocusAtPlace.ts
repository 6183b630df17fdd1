import { useEffect } from 'react';
import { useLocation } from 'wouter';

// Until a place is drawn, and has taken the focus if it wants it.
const DRAWN = 500;

/** Whoever comes to a place has the focus there, not nowhere. */
export function useFocusAtPlace() {
  const [path] = useLocation();
  // biome-ignore lint/correctness/useExhaustiveDependencies: with every change of place
  useEffect(() => {
    const timer = window.setTimeout(() => {
      const at = document.activeElement;
      if (at === null || at === document.body) document.querySelector<HTMLElement>('[data-left-page]')?.focus({ preventScroll: true });
    }, DRAWN);
    return () => window.clearTimeout(timer);
  }, [path]);
}
