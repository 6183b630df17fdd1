import type { Json } from '../../../api/client';
import { Choice } from '../../../ui/Choice';
import { AtMost, Count, Items, type RewardProps, Take } from './parts';
import { without } from './takes';

/** A discount on some items, from each unit or once for the cart. */
export function Discount({ draft, reward, path, onStep }: RewardProps) {
  const each = reward.per !== 'cart';
  const isPrice = typeof reward.take === 'object' && reward.take !== null && 'price' in reward.take;
  const limit = reward.maxUnits === undefined && reward.pick === undefined ? 'all' : ((reward.pick as string | undefined) ?? 'cheapest');
  return (
    <>
      <Take
        draft={draft}
        take={reward.take as Json | undefined}
        path={[...path, 'take']}
        kinds={each ? ['percent', 'amount', 'price'] : ['percent', 'amount']}
      />{' '}
      <Choice
        label="From which units"
        value={each ? limit : 'cart'}
        options={[
          { value: 'all', words: isPrice ? 'of every unit of' : 'every unit of' },
          { value: 'cheapest', words: 'only the cheapest' },
          { value: 'dearest', words: 'only the dearest' },
          ...(isPrice ? [] : [{ value: 'cart', words: 'once, on the total of' }]),
        ]}
        onChange={(which) => draft.change(path, fromUnits(reward, which))}
      />{' '}
      {each && limit !== 'all' && (
        <>
          <Count draft={draft} label="How many units" value={reward.maxUnits} path={[...path, 'maxUnits']} placeholder="any number" /> of{' '}
        </>
      )}
      <Items
        draft={draft}
        label="On what"
        value={reward.on ?? (onStep ? { in: [{ all: true }] } : undefined)}
        all={onStep && reward.on === undefined ? 'the ladder’s items' : undefined}
        path={[...path, 'on']}
      />
      <AtMost draft={draft} label="At most in one cart" value={reward.maxDiscount} path={[...path, 'maxDiscount']} />
      {reward.maxDiscount !== undefined && ' in one cart'}
    </>
  );
}

function fromUnits(reward: Json, which: string): Json {
  if (which === 'cart') return without({ ...reward, per: 'cart' }, 'pick', 'maxUnits');
  if (which === 'all') return without({ ...reward, per: 'unit' }, 'pick', 'maxUnits');
  return { ...reward, per: 'unit', pick: which, maxUnits: reward.maxUnits ?? 1 };
}
