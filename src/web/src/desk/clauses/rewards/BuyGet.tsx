import type { Json } from '../../../api/client';
import { get } from '../../../shop/document';
import { Choice } from '../../../ui/Choice';
import { toNumber, toText } from '../../../ui/numbers';
import { Sheet } from '../../../ui/Sheet';
import { Money } from '../Money';
import { Count, Items, Repeat, type RewardProps, Take, wanting } from './parts';
import { without } from './takes';

type Row = { buy: unknown; get: unknown };

/** Buy so many, or for so much, and get so many more for less. */
export function BuyGet({ draft, reward, path }: RewardProps) {
  const buy = (reward.buy ?? {}) as Json;
  const got = (reward.get ?? {}) as Json;
  const schedule = get(reward, ['repeat', 'schedule']) as Row[] | undefined;
  const how = schedule ? 'schedule' : buy.spend !== undefined ? 'spend' : 'quantity';
  const same = (reward.same as string | undefined) ?? 'any';
  const setHow = (next: string) => {
    const of = { of: buy.of };
    const rest = without(got, 'quantity');
    if (next === 'schedule')
      draft.change(path, { ...reward, buy: of, get: rest, repeat: { schedule: [{ buy: buy.quantity ?? 2, get: got.quantity ?? 1 }] } });
    else {
      const quantity = got.quantity ?? schedule?.[0]?.get ?? 1;
      const bought = next === 'spend' ? { ...of, spend: '50.00' } : { ...of, quantity: buy.quantity ?? schedule?.[0]?.buy ?? 2 };
      const plain = next === 'spend' ? without(reward, 'same') : reward;
      const getOf = next === 'spend' && rest.of === undefined ? { of: buy.of } : {};
      draft.change(path, {
        ...plain,
        buy: bought,
        get: { ...rest, ...getOf, quantity },
        repeat: schedule ? 'once' : (reward.repeat ?? 'once'),
      });
    }
  };
  const setSame = (next: string) =>
    draft.change(
      path,
      next === 'any' ? { ...without(reward, 'same'), get: { of: buy.of, ...got } } : { ...reward, same: next, get: without(got, 'of') },
    );
  return (
    <>
      whoever buys{' '}
      {how === 'quantity' && <Count draft={draft} label="How many to buy" value={buy.quantity} path={[...path, 'buy', 'quantity']} />}
      {how === 'spend' && (
        <Money
          draft={draft}
          label="For how much to buy"
          value={buy.spend}
          path={[...path, 'buy', 'spend']}
          wanting={wanting(draft, path, 'buy', 'spend')}
        />
      )}{' '}
      <Choice
        label="By what it counts"
        value={how}
        options={[
          { value: 'quantity', words: 'units of' },
          { value: 'spend', words: 'worth of' },
          { value: 'schedule', words: 'as in a table, of' },
        ]}
        onChange={setHow}
      />{' '}
      <Items draft={draft} label="Buy what" value={buy.of} path={[...path, 'buy', 'of']} /> gets{' '}
      {how !== 'schedule' && (
        <>
          <Count draft={draft} label="How many to get" value={got.quantity} path={[...path, 'get', 'quantity']} />{' '}
        </>
      )}
      <Choice
        label="Of what it gets"
        value={same}
        options={[
          { value: 'any', words: 'of' },
          ...(how === 'spend'
            ? []
            : [
                { value: 'sku', words: 'more of the same variant' },
                { value: 'product', words: 'more of the same product' },
              ]),
        ]}
        onChange={setSame}
      />{' '}
      {same === 'any' && (
        <>
          <Items draft={draft} label="Get what" value={got.of} path={[...path, 'get', 'of']} />,{' '}
        </>
      )}
      the{' '}
      <Choice
        label="Which of them"
        value={(got.pick as string | undefined) ?? 'cheapest'}
        options={[
          { value: 'cheapest', words: 'cheapest' },
          { value: 'dearest', words: 'dearest' },
        ]}
        onChange={(pick) => draft.change([...path, 'get', 'pick'], pick === 'cheapest' ? undefined : pick)}
      />
      ,{' '}
      <Take
        draft={draft}
        take={got.take as Json | undefined}
        path={[...path, 'get', 'take']}
        kinds={['free', 'percent', 'amount', 'price']}
      />
      {how !== 'schedule' && (
        <>
          , <Repeat draft={draft} value={reward.repeat} path={[...path, 'repeat']} />
        </>
      )}
      {schedule && (
        <Sheet<Row>
          label="So many bought, so many got"
          row="row"
          rows={schedule}
          onRows={(rows) => draft.change([...path, 'repeat', 'schedule'], rows)}
          fresh={(last) => ({ buy: typeof last?.buy === 'number' ? last.buy + 1 : '', get: last?.get ?? 1 })}
          columns={[
            {
              head: 'buy',
              wanting: (place) => wanting(draft, path, 'repeat', 'schedule', place, 'buy'),
              text: { get: (row) => toText(row.buy), set: (row, text) => ({ ...row, buy: toNumber(text) ?? '' }), inputMode: 'numeric' },
            },
            {
              head: 'get',
              wanting: (place) => wanting(draft, path, 'repeat', 'schedule', place, 'get'),
              text: { get: (row) => toText(row.get), set: (row, text) => ({ ...row, get: toNumber(text) ?? '' }), inputMode: 'numeric' },
            },
          ]}
        />
      )}
    </>
  );
}
