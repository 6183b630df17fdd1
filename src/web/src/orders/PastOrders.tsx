import type { PastOrderRow } from '../api/client';
import { usePastOrders } from '../api/queries';
import { useShopContext } from '../shop/shop';

/** Orders from before that were brought in, the last first. */
export function PastOrders({ q, open, onOpen }: { q: string; open: string | null; onOpen: (id: number) => void }) {
  const { data, error, hasNextPage, fetchNextPage, isFetchingNextPage } = usePastOrders(q);
  const rows = data?.pages.flatMap((page) => page.orders) ?? [];
  return (
    <>
      {error && <p className="px-4 py-2 text-doubt">⚠ {error.message}</p>}
      {q !== '' && (data?.pages[0]?.readAs.length ?? 0) > 0 && (
        <p className="truncate px-4 text-faded">Looked for {data?.pages[0]?.readAs.join(', or ')}.</p>
      )}
      {data && rows.length === 0 && (
        <p className="px-4 py-3 text-faded">
          {q === ''
            ? 'No orders from before yet. Bring a file with a row for each line: order number, day, SKU, quantity and, where you have it, what was paid.'
            : 'No order matches. Try fewer letters, or another day.'}
        </p>
      )}
      <ul>
        {rows.map((row) => (
          <Row key={row.id} row={row} isOpen={open === String(row.id)} onOpen={() => onOpen(row.id)} />
        ))}
      </ul>
      {hasNextPage && (
        <p className="px-4 pt-2">
          <button type="button" className="word" aria-disabled={isFetchingNextPage} onClick={() => !isFetchingNextPage && fetchNextPage()}>
            earlier ones
          </button>
        </p>
      )}
    </>
  );
}

function Row({ row, isOpen, onOpen }: { row: PastOrderRow; isOpen: boolean; onOpen: () => void }) {
  const { format, info } = useShopContext();
  return (
    <li className={isOpen ? 'bg-press' : 'odd:bg-band'} data-testid="past-order">
      <button
        type="button"
        aria-current={isOpen || undefined}
        className="flex w-full items-baseline gap-3 px-4 text-left leading-6 hover:bg-press"
        onClick={onOpen}
      >
        <span className="w-24 shrink-0 truncate font-mono text-tape">{row.number}</span>
        <span className="w-44 shrink-0 truncate text-faded">{format.moment(row.placedAt)}</span>
        <span className={`min-w-0 flex-1 truncate ${row.who ? 'font-medium' : 'text-faded'}`}>{row.who ?? 'somebody unknown'}</span>
        {row.codes.length > 0 && <span className="truncate text-faded">{row.codes.join(' ')}</span>}
        {row.assumed && <span className="text-doubt">price assumed</span>}
        <span className="w-20 shrink-0 text-right font-mono text-tape">{format.money(row.total, info.currency)}</span>
      </button>
    </li>
  );
}
