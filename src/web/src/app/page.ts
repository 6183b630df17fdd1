import { useCallback, useSyncExternalStore } from 'react';

type Page = 'day' | 'night';

const changed = new EventTarget();

const read = () => (document.documentElement.dataset.page === 'night' ? 'night' : 'day') as Page;

const subscribe = (listener: () => void) => {
  changed.addEventListener('change', listener);
  return () => changed.removeEventListener('change', listener);
};

/** Day or night paper, kept in this browser. */
export function usePageColour(): [Page, () => void] {
  const page = useSyncExternalStore(subscribe, read);
  const turn = useCallback(() => {
    const next: Page = read() === 'day' ? 'night' : 'day';
    document.documentElement.dataset.page = next;
    localStorage.setItem('rapid-ledger.page', next);
    changed.dispatchEvent(new Event('change'));
  }, []);
  return [page, turn];
}
