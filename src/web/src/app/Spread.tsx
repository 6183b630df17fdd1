import { type ReactNode, useEffect, useState } from 'react';
import { isTyping } from '../ui/keys';

const KEPT = 'rapid-ledger.gutter';
const LEAST = 28;
const MOST = 58;

type Props = {
  left: ReactNode;
  right: ReactNode;
  /** What the right page is called where one page stands at a time. */
  rightName: string;
  isAlone?: boolean;
};

/**
 * The open ledger: two pages and the gutter between them, which can be dragged; the backslash folds the right page away.
 * @param isAlone in a narrow window the left page stands alone, for somebody who knows no ledger
 */
export function Spread({ left, right, rightName, isAlone = false }: Props) {
  const [share, setShare] = useState(() => Number(localStorage.getItem(KEPT)) || 40);
  const [folded, setFolded] = useState(false);
  const [narrowSide, setNarrowSide] = useState<'left' | 'right'>('left');

  useEffect(() => localStorage.setItem(KEPT, String(share)), [share]);
  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (event.key !== '\\' || isTyping(event.target)) return;
      event.preventDefault();
      setFolded((old) => !old);
    };
    window.addEventListener('keydown', keys);
    return () => window.removeEventListener('keydown', keys);
  }, []);

  const set = (next: number) => setShare(Math.max(LEAST, Math.min(MOST, next)));
  return (
    <main className="flex min-h-0 flex-1 flex-col">
      <div className={`not-printed flex gap-4 border-b border-rule px-4 py-1 min-[1024px]:hidden ${isAlone ? 'max-[600px]:hidden' : ''}`}>
        <button type="button" className="word" aria-pressed={narrowSide === 'left'} onClick={() => setNarrowSide('left')}>
          rules
        </button>
        <button type="button" className="word" aria-pressed={narrowSide === 'right'} onClick={() => setNarrowSide('right')}>
          {rightName}
        </button>
      </div>
      <div className="flex min-h-0 flex-1">
        <div
          tabIndex={-1}
          data-left-page
          className={`not-printed min-w-0 flex-1 outline-none ${narrowSide === 'left' ? '' : 'max-[1023px]:hidden'}`}
        >
          {left}
        </div>
        {!folded && (
          <>
            <div
              role="separator"
              aria-orientation="vertical"
              aria-label="Gutter: arrow keys or drag"
              aria-valuenow={share}
              aria-valuemin={LEAST}
              aria-valuemax={MOST}
              tabIndex={0}
              className="not-printed w-1.5 shrink-0 cursor-col-resize border-x border-ink bg-press max-[1023px]:hidden"
              onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
              onPointerMove={(event) => {
                if (event.currentTarget.hasPointerCapture(event.pointerId)) set(100 - (event.clientX / window.innerWidth) * 100);
              }}
              onKeyDown={(event) => {
                if (event.key === 'ArrowLeft') set(share + 2);
                else if (event.key === 'ArrowRight') set(share - 2);
                else return;
                event.preventDefault();
              }}
            />
            <div
              className={`printed min-w-0 shrink-0 max-[1023px]:!w-full ${narrowSide === 'right' ? '' : 'max-[1023px]:hidden'}`}
              style={{ width: `${share}%` }}
            >
              {right}
            </div>
          </>
        )}
      </div>
    </main>
  );
}
