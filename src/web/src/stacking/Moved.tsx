import type { ChangedDraft } from '../api/client';
import { ToWrite } from './ToWrite';

type Props = { words: string; drafts: ChangedDraft[]; onDone: () => void };

/** What a row that was moved changes: shown first, then written. */
export function Moved({ words, drafts, onDone }: Props) {
  return (
    <section
      className="border-rule border-b bg-press px-4 py-1.5"
      aria-label="What the move changes"
      data-testid="stacking-moved"
      role="status"
    >
      <p className="font-medium">{words}</p>
      <p className="text-faded">The tape shows the cart with it.</p>
      <ToWrite words={words} drafts={drafts} onDone={onDone} />{' '}
      <button type="button" className="word min-h-6" onClick={onDone}>
        leave it as it was
      </button>
    </section>
  );
}
