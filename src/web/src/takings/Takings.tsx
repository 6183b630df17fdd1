import { useRef } from 'react';
import { Link } from 'wouter';
import type { TakingsFigures, TakingsRowInfo } from '../api/client';
import { useTakings } from '../api/queries';
import { useShopContext } from '../shop/shop';
import { isZero } from '../ui/format';
import { rowKeys } from '../ui/keys';
import { type Asked, useAsked } from './asked';
import { ordersOf } from './ordersOf';
import { Stretch } from './Stretch';

/** What every promotion brought over a stretch of days; the one that is pressed lies on the right page. */
export function Takings() {
  const [asked, ask] = useAsked();
  const { data, error } = useTakings(asked);
  const { info } = useShopContext();
  const list = useRef<HTMLTableElement>(null);
  const rows = data ? [...data.rows.map(({ id }) => id), '*', '-'] : [];
  const press = (promotion: string) => ask({ promotion });
  const walk = (by: number) => {
    const at = rows.indexOf(asked.promotion);
    const next = rows[at < 0 ? 0 : Math.min(Math.max(at + by, 0), rows.length - 1)];
    if (next === undefined) return;
    press(next);
    list.current?.querySelector<HTMLElement>(`[data-promotion="${CSS.escape(next)}"]`)?.focus();
  };
  const csv = new URLSearchParams({ from: asked.from, to: asked.to, brought: String(asked.brought) });
  return (
    <section aria-label="Takings" className="flex h-full flex-col" data-testid="takings" onKeyDown={rowKeys(walk)}>
      <header className="border-b border-rule px-4 pt-2 pb-1.5">
        <h1 className="text-[17px] font-medium">Takings</h1>
        <Stretch asked={asked} ask={ask} brought={data?.brought ?? 0} of={data?.rows.find(({ id }) => id === asked.promotion)} />
      </header>
      <div className="@container min-h-0 flex-1 overflow-y-auto pb-4">
        {error && <p className="px-4 py-2 text-doubt">⚠ {error.message}</p>}
        {data && !data.isAny && (
          <p className="px-4 py-3">
            No paid orders yet:{' '}
            <Link href="/store" className="word">
              connect your shop
            </Link>
            , or{' '}
            <Link href="/orders" className="word">
              bring past orders
            </Link>
            .
          </p>
        )}
        {data?.isAny && (
          <>
            <table ref={list} className="w-full border-collapse" aria-label="What promotions brought" data-testid="takings-table">
              <thead>
                <tr className="text-right">
                  <th scope="col" className="head-word px-4 text-left font-normal">
                    promotion
                  </th>
                  {HEADS.map(({ words, title }) => (
                    <th key={words} scope="col" className="head-word border-ink px-2 font-normal" title={title}>
                      {words}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody className="border-t border-ink">
                {data.rows.map((row, place) => (
                  <Row
                    asked={asked}
                    key={row.id}
                    row={row}
                    band={place % 2 === 0}
                    isOpen={asked.promotion === row.id}
                    onOpen={() => press(row.id)}
                    currency={info.currency}
                  />
                ))}
              </tbody>
              <tbody className="border-t-2 border-ink">
                <Row
                  asked={asked}
                  row={{ ...WHOLE, id: '*', name: 'All orders', now: data.all, before: data.allBefore }}
                  band={false}
                  isOpen={asked.promotion === '*'}
                  onOpen={() => press('*')}
                  currency={info.currency}
                />
                <Row
                  asked={asked}
                  row={{ ...WHOLE, id: '-', name: 'Without any promotion', now: data.without, before: data.withoutBefore }}
                  band={false}
                  isOpen={asked.promotion === '-'}
                  onOpen={() => press('-')}
                  currency={info.currency}
                />
              </tbody>
            </table>
            <p className="px-4 pt-2 text-faded">
              Takings are what goods brought after all reductions, without tax and delivery. What was given is with tax where prices hold
              it.
              {data.beforeFrom && ' The second line is the stretch beside it.'} An order with two promotions counts in both rows.
            </p>
            <p className="px-4 pt-1">
              <a className="word" href={`/api/takings.csv?${csv}`} download={`takings-${asked.from}-${asked.to}.csv`}>
                as a file
              </a>{' '}
              <a
                className="word ml-3"
                href={`/api/takings.csv?${csv}&byDay=true`}
                download={`takings-by-day-${asked.from}-${asked.to}.csv`}
              >
                by day
              </a>
            </p>
          </>
        )}
      </div>
    </section>
  );
}

// What only a promotion has.
const WHOLE = { state: '', left: null, windowFrom: null, windowTo: null };

const HEADS = [
  { words: 'orders', title: 'orders in which it applied' },
  { words: 'takings', title: 'net of those orders, without tax and delivery' },
  { words: 'given', title: 'what it took off, as shoppers saw it' },
  { words: 'margin', title: 'of takings, where costs are known' },
  { words: 'average', title: 'takings by orders' },
  { words: 'new', title: 'shoppers who had no order before' },
];

type RowProps = { asked: Asked; row: TakingsRowInfo; band: boolean; isOpen: boolean; onOpen: () => void; currency: string };

function Row({ asked, row, band, isOpen, onOpen, currency }: RowProps) {
  const { format } = useShopContext();
  // Where nobody ordered, one word says it.
  const cells = (figures: TakingsFigures): string[] =>
    figures.orders === 0
      ? ['none']
      : [
          format.number(figures.orders),
          format.plain(figures.takings, currency),
          isZero(figures.given) ? '' : format.plain(figures.given, currency),
          format.share(figures.marginPercent),
          figures.averageOrder == null ? '' : format.plain(figures.averageOrder, currency),
          figures.newShoppers === 0 ? '' : format.number(figures.newShoppers),
        ];
  const before = row.before && cells(row.before);
  const [now, delivery] = [cells(row.now), row.now.givenDelivery];
  const below = [
    row.left,
    !isZero(delivery) && `${format.plain(delivery, currency)} of delivery`,
    row.now.held > 0 && `${format.number(row.now.held)} not yet paid`,
  ].filter(Boolean);
  const lost = row.now.margin?.startsWith('-') ?? false;
  return (
    <tr className={isOpen ? 'bg-press' : band ? 'bg-band' : ''} data-testid="takings-row">
      <th scope="row" className="max-w-0 px-4 py-0.5 text-left align-top font-normal">
        <button
          type="button"
          data-promotion={row.id}
          aria-current={isOpen || undefined}
          className="block w-full truncate text-left font-medium hover:underline"
          onClick={onOpen}
        >
          {row.name}
        </button>
        {below.length > 0 && <span className="block truncate text-faded leading-4">{below.join(' · ')}</span>}
      </th>
      {HEADS.map(({ words }, at) => (
        <td
          key={words}
          className={`w-[4.6rem] px-2 py-0.5 text-right align-top font-mono text-tape ${now.length === 1 ? 'text-faded' : ''} ${at === 2 ? 'text-red' : ''} ${at === 3 && lost ? 'font-medium text-doubt' : ''}`}
        >
          {at === 0 && row.id !== '-' && row.now.orders > 0 ? (
            <Link href={ordersOf(asked, row.id)} className="-my-0.5 inline-block min-w-6 leading-6 hover:underline" title="its orders">
              {now[at]}
            </Link>
          ) : (
            now[at]
          )}
          {before && <span className="block text-faded leading-4">{before[at]}</span>}
        </td>
      ))}
    </tr>
  );
}
