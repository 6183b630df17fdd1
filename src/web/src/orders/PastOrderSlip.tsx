import { usePastOrder } from '../api/queries';
import { useShopContext } from '../shop/shop';
import { isZero } from '../ui/format';

/** An order from before, as its file told it. */
export function PastOrderSlip({ id }: { id: number }) {
  const { format, info } = useShopContext();
  const { data: order, error } = usePastOrder(id);
  if (error) return <p className="px-4 text-doubt">⚠ {error.message}</p>;
  if (!order) return null;
  const facts = [order.channel, order.place, order.method].filter(Boolean);
  return (
    <div data-testid="past-order-slip">
      <header className="border-b border-rule px-4 pt-2 pb-1.5">
        <h2 className="text-[17px] font-medium">
          Order <span className="font-mono text-[15px] select-all">{order.number}</span>
        </h2>
      </header>
      <div className="px-4 py-2">
        <p className="text-faded">
          Brought in from before, placed {format.moment(order.placedAt)}
          {order.who && ` by ${order.who}`}
          {facts.length > 0 && ` · ${facts.join(' · ')}`}
        </p>
        <ul className="border-b border-rule py-1">
          {order.lines.map((line, place) => (
            <li key={place} className="flex items-baseline gap-2 leading-6">
              <span className="w-6 text-right">{line.quantity}</span>
              <span className="min-w-0 flex-1 truncate">{line.name}</span>
              <span className="w-20 text-right font-mono text-tape">{format.plain(line.paid, order.currency)}</span>
            </li>
          ))}
          {!isZero(order.delivery) && (
            <li className="flex items-baseline gap-2 leading-6 text-faded">
              <span className="w-6" />
              <span className="flex-1">Delivery</span>
              <span className="w-20 text-right font-mono text-tape">{format.plain(order.delivery, order.currency)}</span>
            </li>
          )}
        </ul>
        <p className="flex items-baseline gap-2 font-medium leading-7">
          <span className="flex-1">In all{order.currency !== info.currency && `, in ${info.currency}`}</span>
          <span className="font-mono text-tape">{format.money(order.total, info.currency)}</span>
        </p>
        {order.codes.length > 0 && (
          <p>
            Codes entered: <span className="font-mono text-tape">{order.codes.join(', ')}</span>
          </p>
        )}
        {order.assumed && (
          <p className="text-doubt">
            ⚠ Price assumed: what was paid for a line is not known; it counts at the price of the day it came in.
          </p>
        )}
        <p className="text-faded">It has no rules to show, and used no promotion, code, card or stock up.</p>
      </div>
    </div>
  );
}
