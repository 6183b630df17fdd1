import { Link, useSearchParams } from 'wouter';
import { useOrders, useShopper, useShopperPage } from '../api/queries';
import { useShopContext } from '../shop/shop';
import { useCart } from '../tape/cart';
import { announce } from '../ui/announce';
import { Ticks } from '../ui/Ticks';
import { Typed } from '../ui/Typed';
import { useWriteShoppers } from './writing';

/** The shopper that is pressed: who they are, what they would get today, their orders. */
export function ShopperPage() {
  const [query] = useSearchParams();
  const id = query.get('shopper');
  const { data, error } = useShopper(id);
  if (!id) return <p className="p-6 text-faded">Press a shopper: their groups, what they would get today and their orders stand here.</p>;
  if (error) return <p className="p-6 text-doubt">⚠ {error.message}</p>;
  return data ? <Whole key={id} detail={data} /> : <p className="p-6 text-faded">Opening…</p>;
}

function Whole({ detail }: { detail: NonNullable<ReturnType<typeof useShopper>['data']> }) {
  const { format, info } = useShopContext();
  const { letBuy } = useCart();
  const write = useWriteShoppers();
  const { shopper, promotions, changes } = detail;
  const { data: orders } = useOrders({ q: '', state: '', shopper: shopper.id });
  const { data: all } = useShopperPage('', '');
  const groups = all?.pages[0]?.groups.map((one) => one.name) ?? info.groups;
  const place = info.places.find((one) => one.code === shopper.place)?.name ?? shopper.place;
  const rename = (name: string) => {
    if (name.trim() !== '' && name.trim() !== shopper.name)
      write([{ id: shopper.id, name: name.trim() }], `${shopper.name} is now called ${name.trim()}`);
  };
  return (
    <section aria-label={shopper.name} className="h-full overflow-y-auto pb-6" data-testid="shopper-page">
      <header className="border-b border-rule px-4 pt-2 pb-1.5">
        <h2 className="text-[17px] font-medium">{shopper.name}</h2>
        <p className="font-mono text-faded select-all">{shopper.id}</p>
      </header>
      <p className="px-4 pt-2 leading-[26px]">
        {info.unprotected ? (
          <span className="text-faded">Names are not shown while the program is served without a sign-in.</span>
        ) : (
          <Typed label="The shopper’s name" prose value={shopper.name} onType={() => {}} onBlur={(event) => rename(event.target.value)} />
        )}{' '}
        is in{' '}
        <Ticks
          label="Groups of this shopper"
          values={shopper.groups}
          options={groups.map((value) => ({ value, words: value }))}
          empty="no group"
          orNone
          joint="and"
          free
          onChange={(values) => write([{ id: shopper.id, groups: values }], `${shopper.name}: ${values.join(', ') || 'no group'}`)}
        />
        {place && <span className="text-faded">, lives in {place}</span>}
        {shopper.language && (
          <span className="text-faded">, reads {new Intl.DisplayNames(['en'], { type: 'language' }).of(shopper.language)}</span>
        )}
        .
      </p>
      <p className="px-4 leading-[26px]">
        {shopper.orders === 0 ? 'No order yet.' : shopper.orders === 1 ? '1 order' : `${format.number(shopper.orders)} orders`}
        {shopper.orders > 0 && `, ${format.money(shopper.spent, info.currency)} in all.`}
      </p>
      <p className="px-4 leading-[26px]">
        <button
          type="button"
          className="word"
          onClick={() => {
            letBuy(shopper);
            announce(`${shopper.name} buys on the tape.`);
          }}
        >
          buy as them on the tape
        </button>
      </p>
      <h3 className="head-word px-4 pt-3">what they would get today</h3>
      {promotions.length === 0 && <p className="px-4 text-faded">No live promotion is open to them.</p>}
      <ul>
        {promotions.map((one) => (
          <li key={one.id} className="px-4 leading-6 odd:bg-band" data-testid="open-promotion">
            <Link className="word" href={`/promotions/${one.id}`}>
              {one.name}
            </Link>
            {one.code && <span> with the code {one.code}</span>}
            {one.takes.length > 0 && <span className="text-faded"> {one.takes.join(', ')}</span>}
            {one.isUsedUp ? (
              <span className="text-doubt"> used as often as they may</span>
            ) : (
              one.uses > 0 && <span className="text-faded"> used {one.uses === 1 ? 'once' : `${one.uses} times`}</span>
            )}
          </li>
        ))}
      </ul>
      <h3 className="head-word px-4 pt-3">orders placed here</h3>
      {orders?.pages[0]?.orders.length === 0 && <p className="px-4 text-faded">None.</p>}
      <ul>
        {orders?.pages[0]?.orders.slice(0, 20).map((order) => (
          <li key={order.id} className="flex items-baseline gap-3 px-4 leading-6 odd:bg-band">
            <Link className="word font-mono" href={`/orders?order=${encodeURIComponent(order.id)}`}>
              {order.id}
            </Link>
            <span className="flex-1 text-faded">{format.lately(order.placedAt)}</span>
            <span className="font-mono text-tape">{format.money(order.due, order.currency)}</span>
          </li>
        ))}
      </ul>
      {changes.length > 0 && (
        <>
          <h3 className="head-word px-4 pt-3">what changed</h3>
          <ul>
            {changes.map((change) => (
              <li key={`${change.at} ${change.what}`} className="px-4 leading-6 odd:bg-band">
                <span className="text-faded">{format.lately(change.at)}</span> {change.what}
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}
