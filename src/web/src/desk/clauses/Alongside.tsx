import { Link } from 'wouter';
import type { Json } from '../../api/client';
import { useFoundPromotions, useMeetingsCount } from '../../api/queries';
import { Clause } from '../../shop/Clause';
import { type Draft, problemsUnder } from '../../shop/document';
import { useShopContext } from '../../shop/shop';
import { Choice } from '../../ui/Choice';
import { toNumber, toText } from '../../ui/numbers';
import { Ticks } from '../../ui/Ticks';
import { Typed } from '../../ui/Typed';

const PASSES = [
  { value: 'pass:item', words: 'reductions of items, gifts and points' },
  { value: 'pass:order', words: 'reductions of the order' },
  { value: 'pass:shipping', words: 'reductions of delivery' },
  { value: 'pass:credit', words: 'credits' },
];

// Not a name that a family can have: a choice needs a value for "none".
const NO_FAMILY = '\u2205';

/** Beside what it may stand in one cart, and in which order it goes. */
export function Alongside({ draft }: { draft: Draft }) {
  const { info } = useShopContext();
  const stacking = (draft.document.stacking ?? {}) as Json;
  const allow = (stacking.allow as string | undefined) ?? 'any';
  const named = allow === 'only' || allow === 'except';
  const { data } = useFoundPromotions('', 1000, named);
  const set = (next: Json) => {
    const kept = Object.fromEntries(Object.entries(next).filter(([, value]) => value !== undefined));
    draft.change(
      ['stacking'],
      Object.keys(kept).length === 0 || (kept.allow === 'any' && Object.keys(kept).length === 1) ? undefined : kept,
    );
  };
  const problems = [...problemsUnder(draft.problems, '/stacking'), ...problemsUnder(draft.problems, '/rank')];
  return (
    <Clause name="Alongside" problems={problems} quiet={draft.document.stacking === undefined && draft.document.rank === undefined}>
      <Choice
        label="Beside what"
        value={allow}
        options={[
          { value: 'any', words: 'anything' },
          { value: 'none', words: 'nothing else' },
          { value: 'only', words: 'only' },
          { value: 'except', words: 'anything but' },
        ]}
        onChange={(next) =>
          set({ ...stacking, allow: next, with: next === 'only' || next === 'except' ? (stacking.with ?? []) : undefined })
        }
      />
      {named && (
        <>
          {' '}
          <Ticks
            label="Those it names"
            values={(stacking.with as string[] | undefined) ?? []}
            options={[
              ...PASSES,
              ...info.families.map((family) => ({ value: `family:${family}`, words: `the family ${family}` })),
              ...(data?.rows ?? [])
                .filter((row) => row.id !== draft.document.id && row.state !== 'archived')
                .map((row) => ({ value: `promotion:${row.id}`, words: row.name })),
            ]}
            onChange={(values) => set({ ...stacking, with: values })}
          />
        </>
      )}
      , in{' '}
      <Choice
        label="Family"
        value={(stacking.family as string | undefined) ?? NO_FAMILY}
        options={[
          { value: NO_FAMILY, words: 'no family' },
          ...info.families.map((family) => ({ value: family, words: `the family ${family}` })),
        ]}
        onChange={(family) => set({ ...stacking, allow, family: family === NO_FAMILY ? undefined : family })}
      />
      ; applied at rank{' '}
      <Typed
        label="Rank"
        placeholder="100"
        inputMode="numeric"
        value={toText(draft.document.rank)}
        onType={(text) => draft.change(['rank'], toNumber(text))}
      />
      , lower first
      <Met id={draft.document.id as string} />
    </Clause>
  );
}

// How many of those that are live or being written it was found beside; a press goes to each of them.
function Met({ id }: { id: string }) {
  const { data } = useMeetingsCount(id);
  if (!data || data.others === 0) return null;
  return (
    <>
      ;{' '}
      <Link href={`/stacking?p=${encodeURIComponent(id)}`} className="word" data-testid="meets">
        {data.isFound ? 'meets' : 'may meet'} {data.isWhole ? '' : 'so far '}
        {data.meets} of {data.others}
      </Link>
    </>
  );
}
