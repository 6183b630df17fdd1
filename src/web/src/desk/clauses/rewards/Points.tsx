import { useShopContext } from '../../../shop/shop';
import { Choice } from '../../../ui/Choice';
import { Money } from '../Money';
import { Count, type RewardProps, wanting } from './parts';

/** Points: so many, or so many for each amount. */
export function Points({ draft, reward, path }: RewardProps) {
  const { info } = useShopContext();
  const fixed = reward.each === undefined;
  const number = fixed ? reward.fixed : reward.points;
  return (
    <>
      <Count draft={draft} label="Points" value={number} path={[...path, fixed ? 'fixed' : 'points']} /> {number === 1 ? 'point' : 'points'}{' '}
      <Choice
        label="For what"
        value={fixed ? 'fixed' : 'each'}
        options={[
          { value: 'fixed', words: 'for the order' },
          { value: 'each', words: 'for every' },
        ]}
        onChange={(next) =>
          draft.change(
            path,
            next === 'fixed' ? { kind: 'points', fixed: number ?? 10 } : { kind: 'points', points: number ?? 1, each: '10.00' },
          )
        }
      />
      {!fixed && (
        <>
          {' '}
          <Money
            draft={draft}
            label="For every so much"
            value={reward.each}
            path={[...path, 'each']}
            wanting={wanting(draft, path, 'each')}
          />{' '}
          {info.currency} paid
        </>
      )}
    </>
  );
}
