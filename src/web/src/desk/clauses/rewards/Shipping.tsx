import type { Json } from '../../../api/client';
import { useShopContext } from '../../../shop/shop';
import { Choice } from '../../../ui/Choice';
import { Ticks } from '../../../ui/Ticks';
import { AtMost, type RewardProps, Take } from './parts';

/** Delivery for less. */
export function Shipping({ draft, reward, path }: RewardProps) {
  const { info } = useShopContext();
  const methods = reward.methods as string[] | undefined;
  return (
    <>
      <Take draft={draft} take={reward.take as Json | undefined} path={[...path, 'take']} kinds={['free', 'percent', 'amount', 'price']} />{' '}
      delivery by{' '}
      <Choice
        label="By which ways"
        value={methods ? 'some' : 'any'}
        options={[
          { value: 'any', words: 'any way' },
          { value: 'some', words: 'only' },
        ]}
        onChange={(next) =>
          draft.change([...path, 'methods'], next === 'any' ? undefined : info.methods.slice(0, 1).map((method) => method.id))
        }
      />
      {methods && (
        <>
          {' '}
          <Ticks
            label="Ways of delivery"
            values={methods}
            options={info.methods.map((method) => ({ value: method.id, words: method.name }))}
            onChange={(values) => draft.change([...path, 'methods'], values)}
          />
        </>
      )}
      <AtMost draft={draft} label="At most off delivery" value={reward.maxDiscount} path={[...path, 'maxDiscount']} />
    </>
  );
}
