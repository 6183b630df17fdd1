import type { Json } from '../../../api/client';
import { get } from '../../../shop/document';
import { Choice } from '../../../ui/Choice';
import { Money } from '../Money';
import { Count, Items, type RewardProps, Take, wanting } from './parts';
import { Skus } from './Skus';
import { without } from './takes';

/** A gift: put in by itself, picked by the shopper, or the same again. */
export function Gift({ draft, reward, path }: RewardProps) {
  const sameAs = get(reward, ['give', 'sameAs']) as Json | undefined;
  const skus = get(reward, ['give', 'skus']) as string[] | undefined;
  const per = get(reward, ['times', 'per']) as Json | undefined;
  const picked = reward.picked === true || (skus !== undefined && skus.length > 1);
  // The same again is always for every so many of one item.
  const often = sameAs ? 'quantity' : per === undefined ? 'once' : per.spend !== undefined ? 'spend' : 'quantity';
  const setWhat = (what: string) =>
    draft.change(
      path,
      what === 'same'
        ? without(
            { ...reward, give: { sameAs: { in: [] } }, times: per?.quantity ? { per: { quantity: per.quantity } } : undefined },
            'picked',
            'take',
          )
        : without({ ...reward, give: { skus: skus ?? [] }, times: undefined }),
    );
  const setOften = (next: string) => {
    if (next === 'once') draft.change([...path, 'times'], undefined);
    else
      draft.change([...path, 'times'], {
        per: { of: per?.of ?? { in: [{ all: true }] }, ...(next === 'spend' ? { spend: '50.00' } : { quantity: 1 }) },
      });
  };
  return (
    <>
      <Count draft={draft} label="How many gifts" value={reward.quantity} path={[...path, 'quantity']} placeholder="1" />{' '}
      <Choice
        label="What is given"
        value={sameAs ? 'same' : 'skus'}
        options={[
          { value: 'skus', words: 'of' },
          { value: 'same', words: 'more of the same, of' },
        ]}
        onChange={setWhat}
      />{' '}
      {sameAs ? (
        <Items draft={draft} label="The same again of" value={sameAs} path={[...path, 'give', 'sameAs']} />
      ) : (
        <Skus
          label="Gifts"
          skus={skus ?? []}
          wanting={wanting(draft, path, 'give')}
          onChange={(next) => draft.change([...path, 'give', 'skus'], next)}
        />
      )}
      {skus?.length === 1 && (
        <>
          ,{' '}
          <Choice
            label="How it comes into the cart"
            value={picked ? 'picked' : 'itself'}
            options={[
              { value: 'itself', words: 'put in by itself' },
              { value: 'picked', words: 'if the shopper picks it' },
            ]}
            onChange={(how) => draft.change(path, how === 'picked' ? { ...reward, picked: true } : without(reward, 'picked', 'take'))}
          />
        </>
      )}
      {picked && !sameAs && (
        <>
          {skus !== undefined && skus.length > 1 && ', which the shopper picks'},{' '}
          <Take
            draft={draft}
            take={(reward.take as Json | undefined) ?? { percent: 100 }}
            path={[...path, 'take']}
            kinds={['free', 'percent', 'amount', 'price']}
          />
        </>
      )}
      ,{' '}
      {sameAs ? (
        'for every'
      ) : (
        <Choice
          label="How often it is given"
          value={often}
          options={[
            { value: 'once', words: 'once' },
            { value: 'quantity', words: 'for every' },
            { value: 'spend', words: 'for every amount of' },
          ]}
          onChange={setOften}
        />
      )}{' '}
      {often === 'quantity' && (
        <>
          <Count
            draft={draft}
            label="For every so many"
            value={per?.quantity}
            path={[...path, 'times', 'per', 'quantity']}
            placeholder={sameAs ? '1' : undefined}
            emptied={[...path, 'times']}
          />
          {sameAs ? ' of one item' : ' of '}
        </>
      )}
      {often === 'spend' && (
        <>
          <Money draft={draft} label="For every so much" value={per?.spend} path={[...path, 'times', 'per', 'spend']} /> spent on{' '}
        </>
      )}
      {per !== undefined && !sameAs && (
        <Items draft={draft} label="For each of what" value={per.of} path={[...path, 'times', 'per', 'of']} all="anything" />
      )}
      {(per !== undefined || sameAs) && (
        <>
          , {reward.atMost !== undefined && 'at most '}
          <Count draft={draft} label="At most so often" value={reward.atMost} path={[...path, 'atMost']} placeholder="no maximum" />
          {reward.atMost !== undefined && ' times'}
        </>
      )}
    </>
  );
}
