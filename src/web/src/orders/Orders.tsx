import { useDeferredValue, useRef, useState } from 'react';
import { useSearchParams } from 'wouter';
import type { OrderRow } from '../api/client';
import { useImport, useOrders, usePromotion } from '../api/queries';
import { Bring } from '../bringing/Bring';
import { Import } from '../bringing/Import';
import { StateMark } from '../shop/StateMark';
import { useShopContext } from '../shop/shop';
import { Choice } from '../ui/Choice';
import { Find } from '../ui/Find';
import { isZero } from '../ui/format';
import { isTyping } from '../ui/keys';
import { More } from '../ui/More';
import { useFindKey } from '../ui/useFindKey';
import { PastOrders } from './PastOrders';

const STATES: Record<string, string> = { held: 'held', taken: 'paid', givenBack: 'given back', lapsed: 'lapsed' };

// Orders from before stand apart: they have no state.
const BROUGHT = 'brought';

/** The shop's orders, those that changed last first: who bought, what came off, where it stands. The one pressed lies on the right page. */
export function Orders() {
  const [query, setQuery] = useSearchParams();
  const open = query.get('order');
  const [typed, setTyped] = useState(query.get('q') ?? query.get('order') ?? '');
  const [state, setState] = useState(query.get('past') ? BROUGHT : (query.get('state') ?? ''));
  const isBrought = state === BROUGHT;
  // From a figure of Takings: the orders behind it.
  const [of, from, to] = ['promotion', 'from', 'to'].map((name) => query.get(name) ?? undefined);
  const { data: incoming } = useImport();
  const find = useRef<HTMLInputElement>(null);
  const list = useRef<HTMLUListElement>(null);
  const q = useDeferredValue(typed.trim());
  const page = useOrders({ q, state, promotion: of, from, to }, !isBrought);
  const { data, error } = page;
  const rows = data?.pages.flatMap((page) => page.orders) ?? [];
  const readAs = data?.pages[0]?.readAs ?? [];
  const only: Record<string, string> = { ...(of && { promotion: of }), ...(from && { from }), ...(to && { to }) };
  const press = (id: string) => setQuery({ ...only, order: id }, { replace: true });
  const openAll = () => {
    setQuery({}, { replace: true });
    setState('');
  };

  useFindKey(find);

  // From order to order by keys: the focus goes along, and the right page with it.
  const walk = (by: number) => {
    const at = rows.findIndex((row) => row.id === open);
    const next = rows[at < 0 ? 0 : Math.min(Math.max(at + by, 0), rows.length - 1)];
    if (!next) return;
    press(next.id);
    list.current?.querySelector<HTMLElement>(`[data-order="${CSS.escape(next.id)}"]`)?.focus();
  };

  return (
    <section
      aria-label="Orders"
      className="flex h-full flex-col"
      data-testid="orders"
      onKeyDown={(event) => {
        const isOurs = !isTyping(event.target) || event.target === find.current;
        if (!isOurs || event.ctrlKey || event.metaKey || event.altKey) return;
        if (event.key === 'ArrowDown' || (event.key === 'j' && !isTyping(event.target))) walk(1);
        else if (event.key === 'ArrowUp' || (event.key === 'k' && !isTyping(event.target))) walk(-1);
        else return;
        event.preventDefault();
      }}
    >
      <header className="border-b border-rule px-4 pt-2 pb-1.5">
        <span className="flex items-baseline gap-4">
          <h1 className="text-[17px] font-medium">Orders</h1>
          <Find
            ref={find}
            label="Find an order"
            placeholder="a number, who bought, a code, a promotion, a day, an item, an amount"
            className="min-w-0 flex-1"
            value={typed}
            onType={setTyped}
          />
          <Choice
            label="State"
            value={state === '' ? 'any' : state}
            options={[
              { value: 'any', words: 'any state' },
              ...Object.entries(STATES).map(([value, words]) => ({ value, words })),
              { value: BROUGHT, words: 'brought in from before' },
            ]}
            onChange={(next) => setState(next === 'any' ? '' : next)}
          />
          <Bring label="A list of past orders" words="past orders…" what="orders" quiet />
        </span>
        {(of || from) && !isBrought && <Only of={of} from={from} to={to} onAll={openAll} />}
        {readAs.length > 0 && !isBrought && <p className="truncate text-faded">Looked for {readAs.join(', or ')}.</p>}
      </header>
      {incoming && <Import key={incoming.id} incoming={incoming} />}
      <div className="min-h-0 flex-1 overflow-y-auto pb-4">
        {isBrought ? (
          <PastOrders q={q} open={query.get('past')} onOpen={(id) => setQuery({ past: String(id) }, { replace: true })} />
        ) : (
          <>
            {error && <p className="px-4 py-2 text-doubt">⚠ {error.message}</p>}
            {data && rows.length === 0 && (
              <p className="px-4 py-3 text-faded">
                {q === '' && state === ''
                  ? 'No orders yet. The counter places some, and a shop through the store interface.'
                  : 'No order matches. Try fewer letters, another day, or any state.'}
              </p>
            )}
            <ul ref={list}>
              {rows.map((row) => (
                <Row key={row.id} row={row} isOpen={open === row.id} onOpen={() => press(row.id)} />
              ))}
            </ul>
            <More words="earlier ones" list={page} />
          </>
        )}
      </div>
    </section>
  );
}

function Row({ row, isOpen, onOpen }: { row: OrderRow; isOpen: boolean; onOpen: () => void }) {
  const { format } = useShopContext();
  return (
    <li className={isOpen ? 'bg-press' : 'odd:bg-band'} data-testid="order">
      <button
        type="button"
        data-order={row.id}
        aria-current={isOpen || undefined}
        className="block w-full px-4 text-left leading-6 hover:bg-press"
        onClick={onOpen}
      >
        <span className="flex items-baseline gap-3">
          <span className="w-[5.6rem] shrink-0" data-testid="order-state">
            <StateMark phase={row.state} words={STATES[row.state] ?? row.state} />
          </span>
          <span className="w-24 shrink-0 text-faded">{format.lately(row.placedAt)}</span>
          <span className="min-w-0 flex-1 truncate font-medium">{row.who ?? 'a guest'}</span>
          {row.rehearsal && <span className="text-doubt">rehearsal</span>}
          <span className="shrink-0 font-mono text-tape text-faded">{row.id.length > 10 ? `…${row.id.slice(-8)}` : row.id}</span>
          <span className="w-20 shrink-0 text-right font-mono text-tape">{format.money(row.due, row.currency)}</span>
        </span>
        {row.promotions.length > 0 && (
          <span className="flex gap-3 pl-[6.4rem] leading-4">
            <span className="min-w-0 flex-1 truncate text-faded">{row.promotions.join(' · ')}</span>
            {!isZero(row.saving) && <span className="font-mono text-tape text-red">−{format.plain(row.saving, row.currency)}</span>}
          </span>
        )}
      </button>
    </li>
  );
}

type OnlyProps = { of?: string; from?: string; to?: string; onAll: () => void };

/** To which orders the list is held, and the way out of it. */
function Only({ of, from, to, onAll }: OnlyProps) {
  const { format } = useShopContext();
  const { data } = usePromotion(of ?? '', !!of);
  const day = (iso?: string) => (iso ? format.day(format.fromLocal(`${iso}T12:00`) ?? iso) : '');
  return (
    <p data-testid="orders-only">
      Only orders{of && ` with ${(data?.document as { name?: string })?.name ?? of}`}
      {from && (from === to ? ` placed on ${day(from)}` : ` placed from ${day(from)} to ${day(to)}`)}.{' '}
      <button type="button" className="word" onClick={onAll}>
        all orders
      </button>
    </p>
  );
}
