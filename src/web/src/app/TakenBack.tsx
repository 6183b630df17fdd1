import { useEffect, useState } from 'react';
import { useHistory, useHistoryEnds } from '../ui/undo';

const SHOWN = 4000;

/** Ctrl Z takes back what was done last, wherever it was done; what that was is said. */
export function TakenBack() {
  const history = useHistory();
  const { said, saidAt } = useHistoryEnds();
  const [shown, setShown] = useState(false);

  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.altKey || event.key.toLowerCase() !== 'z') return;
      // A field that is no part of a rule or a cart takes back its own letters.
      const target = event.target as HTMLElement;
      if ((target.tagName === 'INPUT' || target.tagName === 'TEXTAREA') && !target.hasAttribute('data-taken-back')) return;
      event.preventDefault();
      if (event.shiftKey) history.redo();
      else history.undo();
    };
    window.addEventListener('keydown', keys);
    return () => window.removeEventListener('keydown', keys);
  }, [history]);

  useEffect(() => {
    if (saidAt === 0) return;
    setShown(true);
    const timer = window.setTimeout(() => setShown(false), SHOWN);
    return () => window.clearTimeout(timer);
  }, [saidAt]);

  return (
    <p
      role="status"
      data-testid="taken-back"
      className={
        shown && said
          ? 'not-printed fixed bottom-12 left-1/2 z-30 -translate-x-1/2 border border-ink bg-paper px-3 py-1 shadow-lift'
          : 'sr-only'
      }
    >
      {shown ? said : ''}
    </p>
  );
}
