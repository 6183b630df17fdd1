import type { ReactNode } from 'react';

type Props = { count: number; said: string; onNone: () => void; children: ReactNode };

/** At the foot of a list: how many are selected, and what can be done to all of them at once. */
export function Selected({ count, said, onNone, children }: Props) {
  return (
    <footer className="sticky bottom-0 flex items-center gap-4 border-t border-ink bg-paper px-4 py-2" data-testid="selected">
      <span className="font-medium">{count} selected</span>
      {children}
      <span className="min-w-0 flex-1 text-doubt" role="status">
        {said}
      </span>
      <button type="button" className="word" onClick={onNone}>
        select none
      </button>
    </footer>
  );
}
