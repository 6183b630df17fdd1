import { useEffect, useRef } from 'react';

/**
 * Keeps the focus on a row that comes to stand under another heading while somebody is on it: there it is another element, and without
 * this the focus would fall to nothing. Rows are known by their `data-walked`.
 * @returns For what the rows stand in.
 */
export function useRowFocus() {
  const list = useRef<HTMLDivElement>(null);
  const on = useRef<HTMLElement | null>(null);
  useEffect(() => {
    const left = on.current;
    if (left && !left.isConnected && document.activeElement === document.body)
      list.current?.querySelector<HTMLElement>(`[data-walked="${CSS.escape(left.dataset.walked ?? '')}"]`)?.focus();
  });
  useEffect(() => {
    // Whoever leaves it goes to another place by key, or presses somewhere.
    const left = () => {
      on.current = null;
    };
    const came = ({ target }: FocusEvent) => {
      on.current = target instanceof HTMLElement && target.dataset.walked !== undefined ? target : null;
    };
    document.addEventListener('focusin', came);
    document.addEventListener('pointerdown', left);
    return () => {
      document.removeEventListener('focusin', came);
      document.removeEventListener('pointerdown', left);
    };
  }, []);
  return list;
}
