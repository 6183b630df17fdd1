import { useState } from 'react';
import type { ChangedDraft } from '../api/client';
import { useWrite } from './write';

type Props = { words: string; drafts: ChangedDraft[]; onDone: () => void };

/** What would be written into drafts, as the sentences that will stand there, and the press that writes it as one step. */
export function ToWrite({ words, drafts, onDone }: Props) {
  const [said, setSaid] = useState('');
  const write = useWrite();
  return (
    <>
      <p className="pt-1 text-faded">Written into {drafts.length === 1 ? 'this draft' : 'these drafts'}; nothing live changes:</p>
      {drafts.map((draft) => (
        <p key={draft.id} data-testid="stacking-sentence">
          <span className="font-medium">{draft.name}</span>: {draft.sentence}
        </p>
      ))}
      {said && <p className="text-doubt">⚠ {said}</p>}
      <button
        type="button"
        className="word mt-1 min-h-6 font-medium"
        onClick={async () => {
          try {
            await write(words, drafts);
            onDone();
          } catch (error) {
            setSaid((error as Error).message);
          }
        }}
      >
        write it
      </button>
    </>
  );
}
