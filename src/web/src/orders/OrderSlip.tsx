import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type StoreOrder } from '../api/client';
import { useOrder, useOrderRules } from '../api/queries';
import { Reductions, type SumWords } from '../shop/Reductions';
import { useShopContext } from '../shop/shop';
import { AskTwice } from '../ui/AskTwice';
import { isZero } from '../ui/format';
import { toNumber } from '../ui/numbers';
import { Typed } from '../ui/Typed';
import { Rules } from './Rules';

const SUM: SumWords = {
  goods: 'Goods',
  delivery: 'Delivery',
  tax: 'Tax on top',
  taxIn: 'of which tax',
  credit: 'Credit',
  due: 'Due',
  points: (count) => (count === 1 ? '1 point' : `${count} points`),
};

/** An order whole: its lines, every reduction by its name, which promotions it used; taken or given back by hand. */
export function OrderSlip({ id }: { id: string }) {
  const { data: order, error } = useOrder(id);
  if (error) return <p className="px-4 text-doubt">⚠ {error.message}</p>;
  return order ? <Slip order={order} /> : null;
}

function Slip({ order }: { order: StoreOrder }) {
  const queries = useQueryClient();
  const { format } = useShopContext();
  const { data: rules } = useOrderRules(order.id);
  const told = order.result;
  const [back, setBack] = useState<Record<number, string>>({});
  const [busy, setBusy] = useState(false);
  const [said, setSaid] = useState('');
  const [failure, setFailure] = useState('');
  const units = [...told.lines, ...told.gifts];
  const left = units.map((line, place) => line.quantity - (order.returned?.units[place] ?? 0));
  const money = (amount: string) => format.money(amount, told.currency);
  const path = { id: order.id };
  const run = async (work: () => Promise<string>) => {
    if (busy) return;
    setBusy(true);
    setFailure('');
    try {
      setSaid(await work());
      setBack({});
    } catch (error) {
      setFailure((error as Error).message);
    } finally {
      setBusy(false);
      queries.invalidateQueries();
    }
  };
  const take = () =>
    run(async () => {
      await answered(api.POST('/api/orders/{id}/take', { params: { path } }));
      return 'It is paid.';
    });
  const typed = Object.entries(back).filter(([, text]) => text.trim() !== '');
  const giveBack = () =>
    run(async () => {
      const lines = typed.map(([place, text]) => ({ line: Number(place), quantity: toNumber(text) as number }));
      const wrong = typed.find(([place, text]) => !isCount(text, left[Number(place)] ?? 0));
      if (wrong) throw new Error(`“${wrong[1]}” is not a number of units from 1 to ${left[Number(wrong[0])]}.`);
      const moved = await answered<StoreOrder>(
        api.POST('/api/orders/{id}/give-back', { params: { path }, body: (lines.length > 0 ? { lines } : null) as never }),
      );
      return moved.returned ? `${money(moved.returned.now)} came back.` : 'It is given back.';
    });
  return (
    <div data-testid="order-slip">
      <header className="border-b border-rule px-4 pt-2 pb-1.5">
        <h2 className="text-[17px] font-medium">
          Order <span className="font-mono text-[15px] select-all">{order.id}</span>
        </h2>
      </header>
      <div className="px-4 py-2">
        <p className="text-faded">
          {STATE_WORDS[order.state] ?? order.state}, placed {format.moment(order.placedAt)}
          {order.heldUntil && ` · held until ${format.moment(order.heldUntil)}`}
          {order.rehearsal && ' · a rehearsal, it uses nothing up'}
        </p>
        <ul className="border-b border-rule py-1">
          {units.map((line, place) => (
            <li key={place} className="flex items-baseline gap-2 leading-6">
              <span className="w-6 text-right">{line.quantity}</span>
              <span className="min-w-0 flex-1 truncate">
                {line.name}
                {place >= told.lines.length && <span className="text-faded"> (a gift)</span>}
              </span>
              {order.state !== 'lapsed' && (left[place] ?? 0) > 0 ? (
                <Typed
                  label={`Units of ${line.name} that come back`}
                  className="part w-28 text-right"
                  inputMode="numeric"
                  placeholder="returned: none"
                  value={back[place] ?? ''}
                  onType={(text) => setBack({ ...back, [place]: text })}
                />
              ) : null}
              {(order.returned?.units[place] ?? 0) > 0 && <span className="text-faded">{order.returned?.units[place]} back</span>}
              <span className="w-16 text-right font-mono text-tape">
                {format.plain('goods' in line ? line.goods : line.net, told.currency)}
              </span>
            </li>
          ))}
        </ul>
        <Reductions told={told} words={SUM} format={format} />
        {order.returned && !isZero(order.returned.amount) && <p>{money(order.returned.amount)} came back in all.</p>}
        <div role="status">
          {said && <p>{said}</p>}
          {failure && <p className="text-doubt">⚠ {failure}</p>}
        </div>
        <p className="flex gap-4">
          {(order.state === 'held' || order.state === 'lapsed') && (
            <button type="button" className="word" aria-disabled={busy} onClick={take}>
              it was paid
            </button>
          )}
          {(order.state === 'held' || order.state === 'taken') && (
            <AskTwice words="give back…" sure={typed.length > 0 ? 'give these back' : 'give all of it back'} onSure={giveBack} />
          )}
        </p>
      </div>
      <Rules order={order} rules={rules} />
    </div>
  );
}

const STATE_WORDS: Record<string, string> = { held: 'Held', taken: 'Paid', givenBack: 'Given back', lapsed: 'Lapsed' };

const isCount = (text: string, most: number) => {
  const count = toNumber(text);
  return typeof count === 'number' && Number.isInteger(count) && count >= 1 && count <= most;
};
