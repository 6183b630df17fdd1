import { useState } from 'react';
import { answered, api, type ChangedDraft, type MeetingPair } from '../api/client';
import { Popup } from '../ui/Popup';
import { ToWrite } from './ToWrite';

type Props = { id: string; pair: MeetingPair; families: string[] };

/** What two promotions are to be to each other: shown as the sentences that will stand in their drafts, then written there. */
export function Change({ id, pair, families }: Props) {
  return (
    <Popup label={`Change beside ${pair.name}`} words="change…" className="word" width={380}>
      {(close) => <Choices id={id} pair={pair} families={families} close={close} />}
    </Popup>
  );
}

// By these what is written is what keeps them apart, so that it can be written otherwise.
const WRITTEN = ['stacking', 'family', 'credit'];

function Choices({ id, pair, families, close }: Props & { close: () => void }) {
  const [wish, setWish] = useState<{ words: string; drafts: ChangedDraft[] } | null>(null);
  const [said, setSaid] = useState('');
  const isApart = pair.verdict === 'never' && WRITTEN.includes(pair.ground ?? '');
  const choices = [
    ...(isApart
      ? [{ words: 'let them meet', to: 'can', family: null }]
      : [
          { words: 'never let these meet', to: 'never', family: null },
          ...families.map((family) => ({ words: `one of the family ${family}`, to: 'family', family })),
        ]),
  ];
  const choose = async (choice: (typeof choices)[number]) => {
    setSaid('');
    try {
      const drafts = await answered<ChangedDraft[]>(
        api.POST('/api/meetings/change', { body: { one: id, other: pair.id, to: choice.to, family: choice.family } }),
      );
      setWish({ words: choice.words, drafts });
    } catch (error) {
      setSaid((error as Error).message);
    }
  };
  return (
    <div className="flex flex-col items-start gap-1">
      {choices.map((choice) => (
        <button
          key={choice.words}
          type="button"
          className="word min-h-6"
          aria-pressed={wish?.words === choice.words}
          onClick={() => choose(choice)}
        >
          {choice.words}
        </button>
      ))}
      {said && <p className="text-doubt">⚠ {said}</p>}
      {wish &&
        (wish.drafts.length === 0 ? (
          <p className="pt-1">That is what is written already.</p>
        ) : (
          <ToWrite words={`${wish.words}: ${pair.name}`} drafts={wish.drafts} onDone={close} />
        ))}
    </div>
  );
}
