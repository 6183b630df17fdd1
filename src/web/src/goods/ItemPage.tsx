import type { ReactNode } from 'react';
import { Link } from 'wouter';
import { answered, api, type GoodsWritten, type TapePrint } from '../api/client';
import { useGoodsItem } from '../api/queries';
import { useShopContext } from '../shop/shop';
import { useStep } from '../shop/useStep';
import { useCart } from '../tape/cart';
import { announce } from '../ui/announce';
import { ItemFacts } from './ItemFacts';
import { press, usePressed } from './pressed';

/**
 * The item that is pressed: what it is, the promotions that touch it, what changed of it.
 * @param tape what stands here while none is
 * @param print what the tape says: what its cart comes to stands beside an item, too, and follows its price
 */
export function ItemPage({ tape, print }: { tape: ReactNode; print: TapePrint | null }) {
  const sku = usePressed();
  const { data, error } = useGoodsItem(sku);
  if (!sku)
    return (
      <div className="flex h-full flex-col">
        <p className="not-printed border-b border-rule px-4 py-1 text-faded">
          Press an item to see here which promotions touch it. The tape follows every price that is changed.
        </p>
        <div className="min-h-0 flex-1">{tape}</div>
      </div>
    );
  if (error) return <p className="p-6 text-doubt">⚠ {error.message}</p>;
  return data ? <Item key={sku} detail={data} print={print} /> : <p className="p-6 text-faded">Opening…</p>;
}

function Item({ detail, print }: { detail: NonNullable<ReturnType<typeof useGoodsItem>['data']>; print: TapePrint | null }) {
  const step = useStep();
  const { info, format } = useShopContext();
  const { addItems } = useCart();
  const { item, promotions, quantities, changes } = detail;
  const money = (amount: string) => format.money(amount, info.currency);
  const floor = info.marginFloor ?? 0;
  const worst = promotions.filter((one) => one.margin != null).sort((one, other) => (one.margin ?? 0) - (other.margin ?? 0))[0];
  return (
    <section aria-label={item.name} className="h-full overflow-y-auto pb-6" data-testid="item-page">
      <header className="border-b border-rule px-4 pt-2 pb-1.5">
        <h2 className="text-[17px] font-medium">{item.name}</h2>
        <p className="font-mono text-faded">{item.sku}</p>
      </header>
      <ItemFacts item={item} />
      {!item.taxClass && <p className="px-4 text-doubt">⚠ Without a tax class its tax would count as income wherever a margin stands.</p>}
      <p className="px-4 leading-[26px]">
        {money(item.regular)}
        {item.price != null && <>, reduced to {money(item.price)}</>}
        {item.cost == null ? ', its cost is not known' : `, costs ${money(item.cost)}`}
        {item.margin != null && <span className={item.margin < floor ? 'text-doubt' : ''}>, margin {format.number(item.margin)} %</span>}
        {item.stock == null ? ', no limit of stock.' : `, ${format.number(item.stock)} left.`}
      </p>
      <p className="flex gap-4 px-4 leading-[26px]">
        <button
          type="button"
          className="word"
          onClick={() => {
            addItems([{ sku: item.sku, quantity: 1 }]);
            announce(`${item.name} is on the tape.`);
          }}
        >
          put it on the tape
        </button>
        <button
          type="button"
          className="word"
          onClick={async () => {
            await step(`${item.name} taken out`, () =>
              answered<GoodsWritten>(api.DELETE('/api/goods/items/{sku}', { params: { path: { sku: item.sku } } })),
            );
            press(null);
            announce(`${item.name} is taken out. Ctrl Z brings it back.`);
          }}
        >
          take it out of the shop
        </button>
      </p>
      <p className="px-4 leading-[26px]">
        {print && (
          <>
            The cart on the tape comes to <span data-testid="item-due">{format.money(print.totals.due, print.currency)}</span>.{' '}
          </>
        )}
        <button type="button" className="word" onClick={() => press(null)}>
          back to the tape
        </button>
      </p>
      <h3 className="head-word px-4 pt-3">promotions that touch it</h3>
      {promotions.length === 0 && <p className="px-4 text-faded">No live promotion looks at it.</p>}
      <ul>
        {promotions.map((one) => (
          <li key={one.id} className="flex items-baseline gap-3 px-4 leading-6 odd:bg-band">
            <Link href={`/promotions/${one.id}`} className="min-w-0 flex-1 truncate hover:underline">
              {one.name}
            </Link>
            {one.from && <span className="text-faded">from {one.from}</span>}
            <span className="w-24 text-right">{money(one.price)}</span>
            <span className={`w-16 text-right ${one.margin != null && one.margin < floor ? 'text-doubt' : 'text-faded'}`}>
              {one.margin == null ? '' : `${format.number(one.margin)} %`}
            </span>
          </li>
        ))}
      </ul>
      {promotions.length > 0 && <p className="px-4 text-faded">What one of it costs by each alone, with its margin.</p>}
      {worst?.margin != null && worst.margin < floor && (
        <p className="px-4 text-doubt">
          ⚠ With “{worst.name}” its margin is {format.number(worst.margin)} %
          {worst.margin < 0 ? ': it is sold below cost.' : `, below the floor of ${format.number(floor)} %.`}
        </p>
      )}
      <h3 className="head-word px-4 pt-3">what some of it cost now</h3>
      <table aria-label="Price by quantity" className="mx-4 border-collapse">
        <thead>
          <tr className="text-left">
            {['units', 'together', 'each', 'margin'].map((head) => (
              <th key={head} scope="col" className="head-word border-b border-ink px-2 font-normal">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {quantities.map((one) => (
            <tr key={one.units} className="border-b border-rule">
              <td className="px-2 text-right">{one.units}</td>
              <td className="px-2 text-right font-mono text-tape">{money(one.total)}</td>
              <td className="px-2 text-right font-mono text-tape text-faded">{money(one.each)}</td>
              <td className={`px-2 text-right ${one.margin != null && one.margin < floor ? 'text-doubt' : 'text-faded'}`}>
                {one.margin == null ? '' : `${format.number(one.margin)} %`}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="px-4 text-faded">For a guest with nothing else in the cart, by all that is live.</p>
      <h3 className="head-word px-4 pt-3">what changed</h3>
      {changes.length === 0 && <p className="px-4 text-faded">Nothing since it came in.</p>}
      <ul>
        {changes.map((change) => (
          <li key={`${change.at} ${change.what}`} className="px-4 leading-6 odd:bg-band">
            <span className="text-faded">{format.lately(change.at)}</span> {change.what} <span className="text-faded">{change.by}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
