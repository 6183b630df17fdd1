import { useState } from 'react';
import type { Json } from '../../api/client';
import { Clause, Remove } from '../../shop/Clause';
import { type Draft, type Path, problemsUnder } from '../../shop/document';
import { Menu } from '../../ui/Menu';
import { FRESH, type Kind } from './rewards/fresh';
import { KINDS } from './rewards/kinds';

/** What it gives: one reward after the other, each with words of its own. */
export function Gives({ draft }: { draft: Draft }) {
  const rewards = (draft.document.rewards as Json[] | undefined) ?? [];
  const isAlone = rewards.some((reward) => KINDS[reward.kind as Kind]?.alone);
  const swap = (place: number, by: -1 | 1) => {
    const next = [...rewards];
    const [moved] = next.splice(place, 1);
    if (moved) next.splice(place + by, 0, moved);
    draft.change(['rewards'], next);
  };
  return (
    <Clause name="Gives" problems={problemsUnder(draft.problems, '/rewards')}>
      {rewards.map((reward, place) => {
        const form = KINDS[reward.kind as Kind];
        return (
          // A reward is known by its place: nothing else tells it from another.
          <div key={`${place} ${reward.kind}`} data-reward={reward.kind} className="flex items-baseline gap-1">
            <div className="min-w-0 flex-1">
              {place > 0 && <span className="text-faded">and </span>}
              {form ? (
                <form.Clause draft={draft} reward={reward} path={['rewards', place]} />
              ) : (
                <AsFile draft={draft} reward={reward} path={['rewards', place]} />
              )}
            </div>
            <span className="shrink-0">
              {place > 0 && (
                <button type="button" className="px-1 text-faded" aria-label="Move this reward up" onClick={() => swap(place, -1)}>
                  ↑
                </button>
              )}
              {place < rewards.length - 1 && (
                <button type="button" className="px-1 text-faded" aria-label="Move this reward down" onClick={() => swap(place, 1)}>
                  ↓
                </button>
              )}
              <Remove label={`Take out: ${form?.words ?? 'this reward'}`} onClick={() => draft.change(['rewards', place], undefined)} />
            </span>
          </div>
        );
      })}
      {isAlone ? (
        <span className="text-faded">Nothing else can be given beside {KINDS[rewards[0]?.kind as Kind]?.words ?? 'it'}.</span>
      ) : (
        <Menu
          label="Give"
          words={rewards.length === 0 ? 'give…' : 'and also…'}
          items={(Object.keys(KINDS) as Kind[]).map((kind) => ({
            words: KINDS[kind].words,
            note: rewards.length > 0 && KINDS[kind].alone ? 'only where nothing else is given' : KINDS[kind].note,
            off: rewards.length > 0 && KINDS[kind].alone,
            onSelect: () => draft.change(['rewards'], [...rewards, FRESH[kind]()]),
          }))}
        />
      )}
    </Clause>
  );
}

/** A kind that is not known here, as in a file of a newer program: it is written as it stands. */
function AsFile({ draft, reward, path }: { draft: Draft; reward: Json; path: Path }) {
  const [typed, setTyped] = useState<string | null>(null);
  const [broken, setBroken] = useState(false);
  const shown = typed ?? JSON.stringify(reward, null, 1);
  return (
    <div className="inline-block w-full align-top">
      <textarea
        aria-label={`The reward ${String(reward.kind)} as in a file`}
        className="mt-1 block h-56 w-full border border-rule bg-transparent p-2 font-mono text-tape leading-[16px]"
        spellCheck={false}
        value={shown}
        onFocus={() => setTyped(shown)}
        onBlur={() => setTyped(broken ? typed : null)}
        onChange={(event) => {
          setTyped(event.target.value);
          try {
            draft.change(path, JSON.parse(event.target.value));
            setBroken(false);
          } catch {
            setBroken(true);
          }
        }}
      />
      {broken && <p className="text-doubt">⚠ This is not JSON yet; the rule keeps what it last was.</p>}
    </div>
  );
}
