import { useDeferredValue, useState } from 'react';
import { useSearchParams } from 'wouter';
import type { OrderRow } from '../api/client';
import { useOrders } from '../api/queries';
import { StateMark } from '../shop/StateMark';
import { useShopContext } from '../shop/shop';
import { Find } from '../ui/Find';
import { isZero } from '../ui/format';
import { OrderSlip } from './OrderSlip';

const STATES: Record<string, string> = { held: 'held', taken: 'paid', givenBack: 'given back', lapsed: 'lapsed' };

/** The shop's orders, those that changed last first: who bought, what came off, where it stands. One opens to its slip. */
export function Orders() {
  const [query] = useSearchParams();
  const [typed, setTyped] = useState(query.get('order') ?? '');
  const [open, setOpen] = useState(query.get('order'));
  const q = useDeferredValue(typed.trim());
  const { data, error, hasNextPage, fetchNextPage, isFetchingNextPage } = useOrders(q);
  const rows = data?.pages.flatMap((page) => page.orders) ?? [];
  return (
    <section aria-label="Orders" className="flex h-full flex-col" data-testid="orders">
      <header className="flex items-baseline gap-4 border-b border-rule px-4 pt-2 pb-1.5">
        <h2 className="text-[17px] font-medium">Orders</h2>
        <Find
          label="Find an order"
          placeholder="its number, who bought, a code of a batch"
          className="min-w-0 flex-1"
          value={typed}
          onType={setTyped}
        />
      </header>
      <div className="min-h-0 flex-1 overflow-y-auto pb-4">
        {error && <p className="px-4 py-2 text-doubt">⚠ {error.message}</p>}
        {data && rows.length === 0 && (
          <p className="px-4 py-3 text-faded">
            {q === '' ? 'No orders yet. The counter places some, and a shop through the store interface.' : 'No order matches.'}
          </p>
        )}
        <ul>
          {rows.map((row) => (
            <Row key={row.id} row={row} isOpen={open === row.id} onOpen={() => setOpen(open === row.id ? null : row.id)} />
          ))}
        </ul>
        {hasNextPage && (
          <p className="px-4 pt-2">
            <button
              type="button"
              className="word"
              aria-disabled={isFetchingNextPage}
              onClick={() => !isFetchingNextPage && fetchNextPage()}
            >
              earlier ones
            </button>
          </p>
        )}
      </div>
    </section>
  );
}

function Row({ row, isOpen, onOpen }: { row: OrderRow; isOpen: boolean; onOpen: () => void }) {
  const { format } = useShopContext();
  return (
    <li className="odd:bg-band" data-testid="order">
      <button type="button" aria-expanded={isOpen} className="block w-full px-4 text-left leading-6 hover:bg-press" onClick={onOpen}>
        <span className="flex items-baseline gap-3">
          <span className="w-[5.6rem] shrink-0" data-testid="order-state">
            <StateMark phase={row.state} words={STATES[row.state] ?? row.state} />
          </span>
          <span className="w-24 shrink-0 text-faded">{format.lately(row.placedAt)}</span>
          <span className="min-w-0 flex-1 truncate font-medium">{row.who ?? 'a guest'}</span>
          {row.rehearsal && <span className="text-doubt">rehearsal</span>}
          <span className="w-20 shrink-0 text-right font-mono text-tape">{format.money(row.due, row.currency)}</span>
        </span>
        {row.promotions.length > 0 && (
          <span className="flex gap-3 pl-[6.4rem] leading-4">
            <span className="min-w-0 flex-1 truncate text-faded">{row.promotions.join(' · ')}</span>
            {!isZero(row.saving) && <span className="font-mono text-tape text-red">−{format.plain(row.saving, row.currency)}</span>}
          </span>
        )}
      </button>
      {isOpen && <OrderSlip id={row.id} />}
    </li>
  );
}
