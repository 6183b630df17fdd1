import type { Json } from '../../../api/client';
import { Remove } from '../../../shop/Clause';
import type { Path } from '../../../shop/document';
import { useShopContext } from '../../../shop/shop';
import { Choice } from '../../../ui/Choice';
import { Menu } from '../../../ui/Menu';
import { toAmount, toNumber, toText } from '../../../ui/numbers';
import { Sheet } from '../../../ui/Sheet';
import { baseOf, OtherCurrencies, withAmount } from '../Money';
import { FRESH, type Kind } from './fresh';
import { KINDS } from './kinds';
import { Items, type RewardProps, wanting } from './parts';
import { amountIn, sayTake, takeTyped, without } from './takes';

type Step = { from?: unknown; rewards?: Json[] };

const ON_STEPS: Kind[] = ['discount', 'shipping', 'gift', 'points'];

/** The more, the better: steps by quantity or spend, each with what it gives. */
export function Ladder({ draft, reward, path }: RewardProps) {
  const { info } = useShopContext();
  const base = info.currency;
  const steps = (reward.steps as Step[] | undefined) ?? [];
  const byQuantity = reward.measure !== 'spend';
  const beyond = reward.apply === 'beyond';
  const set = (change: Json) => draft.change(path, { ...reward, ...change });
  // The first discount of a step is typed in the table; what else it gives stands below.
  const first = (step: Step) => {
    const [only] = step.rewards ?? [];
    return only?.kind === 'discount' ? only : undefined;
  };
  const takeOf = (step: Step) => first(step)?.take as Json | undefined;
  return (
    <>
      by{' '}
      <Choice
        label="By what it climbs"
        value={byQuantity ? 'quantity' : 'spend'}
        options={[
          { value: 'quantity', words: 'the units of' },
          { value: 'spend', words: 'what is spent on' },
        ]}
        onChange={(measure) =>
          set({
            measure,
            apply: measure === 'spend' && beyond ? 'highest' : reward.apply,
            steps: steps.map((step, place) => ({ ...step, from: measure === 'spend' ? `${(place + 1) * 50}.00` : (place + 1) * 2 })),
          })
        }
      />{' '}
      <Items draft={draft} label="Of what it counts" value={reward.of} path={[...path, 'of']} all="everything" />,{' '}
      <Choice
        label="Which steps count"
        value={(reward.apply as string | undefined) ?? 'highest'}
        options={[
          { value: 'highest', words: 'the highest step reached counts' },
          { value: 'all', words: 'every step reached counts' },
          ...(byQuantity ? [{ value: 'beyond', words: 'each step counts for the units from it on' }] : []),
        ]}
        onChange={(apply) => set({ apply })}
      />
      <Sheet<Step>
        label="Steps"
        row="step"
        rows={steps}
        onRows={(rows) => set({ steps: rows })}
        fresh={(last) => ({
          from: byQuantity ? (typeof last?.from === 'number' ? last.from * 2 : '') : '',
          rewards: last?.rewards?.[0]?.kind === 'discount' ? [last.rewards[0]] : [{ kind: 'discount', take: { percent: 10 }, per: 'unit' }],
        })}
        columns={[
          {
            head: 'from',
            wanting: (place) => wanting(draft, path, 'steps', place, 'from'),
            text: {
              get: (step) => (byQuantity ? toText(step.from) : baseOf(step.from, base)),
              set: (step, text) => ({
                ...step,
                from: byQuantity ? (toNumber(text) ?? '') : (withAmount(step.from, base, base, toAmount(text)) ?? ''),
              }),
              inputMode: byQuantity ? 'numeric' : 'decimal',
            },
          },
          {
            head: 'takes',
            wanting: (place) => wanting(draft, path, 'steps', place, 'rewards', 0, 'take'),
            text: {
              get: (step) => sayTake(takeOf(step), base),
              set: (step, text, before, rows) => {
                const take = takeTyped(text, { now: takeOf(step), before: takeOf(before), others: rows.map(takeOf), base });
                const others = first(step) ? (step.rewards ?? []).slice(1) : (step.rewards ?? []);
                const discount = { kind: 'discount', per: 'unit', ...first(step), take };
                return { ...step, rewards: take ? [discount, ...others] : others };
              },
              placeholder: 'nothing',
            },
          },
          ...(info.currencies.length > 1 && (!byQuantity || steps.some((step) => amountIn(takeOf(step))))
            ? [
                {
                  head: 'in other currencies',
                  cell: (step: Step, place: number) => {
                    const take = takeOf(step);
                    const kind = amountIn(take);
                    return (
                      <>
                        {!byQuantity && (
                          <OtherCurrencies
                            draft={draft}
                            label={`Step ${place + 1}: from`}
                            value={step.from}
                            path={[...path, 'steps', place, 'from']}
                          />
                        )}
                        {kind && (
                          <OtherCurrencies
                            draft={draft}
                            label={`Step ${place + 1}: takes`}
                            value={take?.[kind]}
                            path={[...path, 'steps', place, 'rewards', 0, 'take', kind]}
                          />
                        )}
                      </>
                    );
                  },
                },
              ]
            : []),
          ...(beyond
            ? []
            : [
                {
                  head: 'from what',
                  cell: (step: Step, place: number) =>
                    first(step) ? (
                      <Choice
                        label={`Step ${place + 1}: from what`}
                        value={first(step)?.per === 'cart' ? 'cart' : 'unit'}
                        options={[
                          { value: 'unit', words: 'each unit' },
                          { value: 'cart', words: 'once, on their total' },
                        ]}
                        onChange={(per) => draft.change([...path, 'steps', place, 'rewards', 0, 'per'], per)}
                      />
                    ) : null,
                },
                {
                  head: 'and also',
                  cell: (step: Step, place: number) => (
                    <>
                      {(step.rewards ?? []).map((inner, at) => {
                        if (at === 0 && inner === first(step)) return null;
                        const own = KINDS[inner.kind as Kind];
                        const way: Path = [...path, 'steps', place, 'rewards', at];
                        return (
                          // A reward is known by its place.
                          <div key={at}>
                            {own && <own.Clause draft={draft} reward={inner} path={way} onStep />}
                            <Remove label={`Step ${place + 1}: take this out`} onClick={() => draft.change(way, undefined)} />
                          </div>
                        );
                      })}
                      <Menu
                        label={`Step ${place + 1} also gives`}
                        words="add…"
                        items={ON_STEPS.filter((kind) => kind !== 'discount' || first(step)).map((kind) => ({
                          words: KINDS[kind].words,
                          onSelect: () => {
                            const fresh = FRESH[kind]();
                            const added = kind === 'discount' ? without(fresh, 'on') : fresh;
                            draft.change([...path, 'steps', place, 'rewards'], [...(step.rewards ?? []), added]);
                          },
                        }))}
                      />
                    </>
                  ),
                },
              ]),
        ]}
      />
    </>
  );
}
