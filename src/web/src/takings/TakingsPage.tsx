import { Link } from 'wouter';
import type { PromotionTakings, TakingsFigures } from '../api/client';
import { useTakingsOf } from '../api/queries';
import { useShopContext } from '../shop/shop';
import { isZero, subtract } from '../ui/format';
import { type Asked, useAsked } from './asked';
import { Bars } from './Bars';
import { ordersOf } from './ordersOf';

const HEADS: Record<string, string> = {
  code: 'by code',
  place: 'by place',
  channel: 'by sales channel',
  currency: 'by currency',
  group: 'by group of shoppers',
  item: 'by item',
};

/** The promotion that is pressed: its picture, all its figures, and what its orders were. */
export function TakingsPage() {
  const [asked] = useAsked();
  const { data, error } = useTakingsOf(asked);
  if (!asked.promotion)
    return (
      <p className="p-6 text-faded">Press a promotion: its days stand here as a picture, and by code, place and item what it brought.</p>
    );
  if (error) return <p className="p-6 text-doubt">⚠ {error.message}</p>;
  return data ? <Whole asked={asked} takings={data} /> : <p className="p-6 text-faded">Adding up…</p>;
}

function Whole({ asked, takings }: { asked: Asked; takings: PromotionTakings }) {
  const isOne = takings.id !== '*' && takings.id !== '-';
  const { figures } = takings;
  return (
    <section aria-label={takings.name} className="h-full overflow-y-auto pb-6" data-testid="takings-page">
      <header className="flex items-baseline gap-4 border-b border-rule px-4 pt-2 pb-1.5">
        <h2 className="min-w-0 flex-1 truncate text-[17px] font-medium">{takings.name}</h2>
        {isOne && (
          <>
            <Link href={ordersOf(asked, takings.id)} className="word">
              its orders
            </Link>
            <Link href={`/promotions/${takings.id}`} className="word">
              its rule
            </Link>
          </>
        )}
      </header>
      {figures.orders === 0 ? (
        <p className="px-4 py-2 text-faded">No paid order in these days{figures.held > 0 && `, ${figures.held} not yet paid`}.</p>
      ) : (
        <>
          <Bars takings={takings} />
          <Figures takings={takings} />
          {takings.isBehind && <p className="px-4 pt-2 text-faded">The tables below are still being added up.</p>}
          {takings.tables.map((table) => (
            <Parts key={table.by} asked={asked} id={takings.id} table={table} />
          ))}
        </>
      )}
    </section>
  );
}

/** All figures, in sentences. */
function Figures({ takings }: { takings: PromotionTakings }) {
  const { format, info } = useShopContext();
  const { figures, otherAverage, budgetUsed } = takings;
  const isOne = takings.id !== '*' && takings.id !== '-';
  const money = (amount: string) => format.money(amount, info.currency);
  const larger = otherAverage && figures.averageOrder ? subtract(figures.averageOrder, otherAverage) : null;
  return (
    <div className="px-4 pt-2 leading-[22px]" data-testid="takings-figures">
      <p>
        {format.number(figures.orders)} {figures.orders === 1 ? 'order' : 'orders'} brought {money(figures.takings)}
        {isOne && (
          <>
            {' '}
            and were given {money(figures.given)}
            {!isZero(figures.givenDelivery) && ` and ${money(figures.givenDelivery)} of delivery`}, {money(figures.givenWithoutTax)} without
            tax, on {format.number(figures.units)} {figures.units === 1 ? 'unit' : 'units'}
          </>
        )}
        .{!isZero(figures.paid) && ` Credit paid ${money(figures.paid)}.`}
        {figures.held > 0 && ` ${format.number(figures.held)} more are not yet paid.`}
      </p>
      <p>
        {figures.margin == null ? (
          'What was left after cost is not known.'
        ) : (
          <span className={figures.margin.startsWith('-') ? 'font-medium text-doubt' : ''}>
            {figures.margin.startsWith('-') ? '⚠ ' : ''}
            {money(figures.margin.replace('-', ''))} were {figures.margin.startsWith('-') ? 'lost' : 'left'} after cost,{' '}
            {format.share(figures.marginPercent)}
            {figures.knownPercent !== 100 && ` (of ${format.share(figures.knownPercent)} of takings: the other costs are not known)`}.
          </span>
        )}{' '}
        {format.number(figures.newShoppers)} {figures.newShoppers === 1 ? 'shopper was' : 'shoppers were'} new;{' '}
        {format.number(figures.guests)} bought as guests, who are never counted as new.
      </p>
      {larger != null && (
        <p className="text-faded" data-testid="takings-caution">
          Orders with it came to {money(figures.averageOrder ?? '0')} on average, {larger.startsWith('-') ? 'less' : 'more'} by{' '}
          {money(larger.replace('-', ''))} than orders without it in the same time. Whether that is because of it, orders alone do not tell.
        </p>
      )}
      {budgetUsed && (
        <p className="text-faded">
          Of its budget {money(budgetUsed)} are used in all. What came back still counts there, and no longer in what was given.
        </p>
      )}
    </div>
  );
}

/** A short table. */
function Parts({ asked, id, table }: { asked: Asked; id: string; table: PromotionTakings['tables'][number] }) {
  const { format, info } = useShopContext();
  const plain = (amount: string) => format.plain(amount, info.currency);
  const cells = (figures: TakingsFigures) => [
    format.number(figures.orders),
    plain(figures.takings),
    plain(figures.given),
    format.share(figures.marginPercent),
  ];
  return (
    <table className="mx-4 mt-3 w-[calc(100%-2rem)] border-collapse" aria-label={HEADS[table.by]} data-testid={`takings-by-${table.by}`}>
      <thead>
        <tr className="text-right">
          <th scope="col" className="head-word border-b border-ink text-left font-normal">
            {HEADS[table.by]}
          </th>
          {['orders', 'takings', 'given', 'margin'].map((head) => (
            <th key={head} scope="col" className="head-word w-20 border-b border-ink pl-2 font-normal">
              {head}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {table.parts.map((part) => (
          <tr key={`${part.word} ${part.asked}`} className="odd:bg-band">
            <th scope="row" className="max-w-0 truncate px-1 text-left font-normal">
              {part.asked ? (
                <Link href={ordersOf(asked, id, part.asked)} className="inline-block min-w-6 leading-6 hover:underline">
                  {part.word}
                </Link>
              ) : (
                part.word
              )}
            </th>
            {cells(part.figures).map((cell, at) => (
              <td key={at} className="pl-2 text-right font-mono text-tape">
                {cell}
              </td>
            ))}
          </tr>
        ))}
        {table.rest && (
          <tr className="border-t border-rule text-faded">
            <th scope="row" className="px-1 text-left font-normal">
              all others
            </th>
            {cells(table.rest).map((cell, at) => (
              <td key={at} className="pl-2 text-right font-mono text-tape">
                {cell}
              </td>
            ))}
          </tr>
        )}
        {table.by === 'group' && (
          <tr>
            <td colSpan={5} className="px-1 text-faded">
              An order of somebody in two groups counts in both.
            </td>
          </tr>
        )}
      </tbody>
    </table>
  );
}
