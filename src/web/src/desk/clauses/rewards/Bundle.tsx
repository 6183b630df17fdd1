import type { Json } from '../../../api/client';
import { useShopContext } from '../../../shop/shop';
import { Choice } from '../../../ui/Choice';
import { toNumber, toText } from '../../../ui/numbers';
import { Sheet } from '../../../ui/Sheet';
import { Items, Repeat, type RewardProps, Take, wanting } from './parts';
import { sayTake, takeTyped, without } from './takes';

type Slot = { of?: Json; quantity?: unknown; take?: Json };

/** A set made of slots, for less together or slot by slot. */
export function Bundle({ draft, reward, path }: RewardProps) {
  const base = useShopContext().info.currency;
  const slots = (reward.slots as Slot[] | undefined) ?? [];
  const bySlot = reward.take === undefined;
  const setWhole = (whole: boolean) =>
    draft.change(
      path,
      whole
        ? { ...reward, take: slots[0]?.take ?? { percent: 10 }, slots: slots.map((slot) => without(slot as Json, 'take')) }
        : { ...without(reward, 'take'), slots: slots.map((slot, place) => (place === 0 ? { ...slot, take: { percent: 10 } } : slot)) },
    );
  return (
    <>
      the set of
      <Sheet<Slot>
        label="Slots of the set"
        row="slot"
        rows={slots}
        onRows={(rows) => draft.change([...path, 'slots'], rows)}
        fresh={() => ({ of: { in: [] }, quantity: 1 })}
        columns={[
          {
            head: 'units',
            wanting: (place) => wanting(draft, path, 'slots', place, 'quantity'),
            text: {
              get: (slot) => toText(slot.quantity),
              set: (slot, text) => ({ ...slot, quantity: toNumber(text) ?? '' }),
              inputMode: 'numeric',
            },
          },
          {
            head: 'of',
            cell: (slot, place) => (
              <Items draft={draft} label={`Slot ${place + 1}: of what`} value={slot.of} path={[...path, 'slots', place, 'of']} />
            ),
          },
          ...(bySlot
            ? [
                {
                  head: 'takes',
                  wanting: (place: number) => wanting(draft, path, 'slots', place, 'take'),
                  text: {
                    get: (slot: Slot) => sayTake(slot.take, base),
                    set: (slot: Slot, text: string, before: Slot, rows: Slot[]): Slot => {
                      const others = rows.map((other) => other.take);
                      const take = takeTyped(text, { now: slot.take, before: before.take, others, base });
                      return without({ ...slot, take } as Json) as Slot;
                    },
                    placeholder: 'full price',
                  },
                },
              ]
            : []),
        ]}
      />
      <Choice
        label="What comes down"
        value={bySlot ? 'slots' : 'set'}
        options={[
          { value: 'set', words: 'all together' },
          { value: 'slots', words: 'each slot by itself, as said above' },
        ]}
        onChange={(next) => setWhole(next === 'set')}
      />
      {!bySlot && (
        <>
          {' '}
          <Take draft={draft} take={reward.take as Json} path={[...path, 'take']} kinds={['price', 'percent', 'amount']} />
        </>
      )}
      , <Repeat draft={draft} value={reward.repeat} path={[...path, 'repeat']} />; of what fits, the{' '}
      <Choice
        label="Which fill it"
        value={(reward.fill as string | undefined) ?? 'dearest'}
        options={[
          { value: 'dearest', words: 'dearest' },
          { value: 'cheapest', words: 'cheapest' },
        ]}
        onChange={(fill) => draft.change([...path, 'fill'], fill === 'dearest' ? undefined : fill)}
      />{' '}
      make the set
    </>
  );
}
