import { useDeferredValue, useState } from 'react';
import type { Shelf } from '../api/client';
import { useShopContext } from '../shop/shop';
import { useCart } from '../tape/cart';
import type { Format } from '../ui/format';
import { useOffers, useShelf, whoAsks } from './store';
import type { Words } from './words';

type Props = { words: Words; format: Format; turn: unknown };
type Product = Shelf['products'][number];

/** The price list: what there is, by category or by name; a press unfolds an item. */
export function ShelfList({ words, format, turn }: Props) {
  const { cart } = useCart();
  const [typed, setTyped] = useState('');
  const [category, setCategory] = useState<string | undefined>();
  const [open, setOpen] = useState<string | null>(null);
  const q = useDeferredValue(typed);
  const { info } = useShopContext();
  const currency = cart.currency ?? info.currency;
  const { data: shelf } = useShelf(q, category, cart.currency, cart.at, turn);
  const { data: told } = useOffers({ show: 'today', ...whoAsks(cart, words.tag) }, turn);
  const today = told?.offers ?? [];
  return (
    <>
      {today.length > 0 && (
        <section aria-label={words.today} className="border-b border-rule py-2" data-testid="offers-today">
          <h2 className="font-medium">{words.today}</h2>
          <ul>
            {today.map((offer) => (
              <li key={offer.promotion}>
                <span className="text-red">{offer.label}</span>
                {offer.code && (
                  <span>
                    {' '}
                    {words.withCode} <span className="font-medium">{offer.code}</span>
                  </span>
                )}
                {offer.takes.length > 0 && <span className="text-faded"> {offer.takes.join(', ')}</span>}
                {offer.endsWords && (
                  <span className="text-faded">
                    {' '}
                    {words.until} {offer.endsWords}
                  </span>
                )}
              </li>
            ))}
          </ul>
        </section>
      )}
      <input
        aria-label={words.find}
        placeholder={words.find}
        className="mt-2 w-full border-b border-ink bg-transparent py-0.5"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
      />
      <p className="flex flex-wrap gap-x-3 border-b border-rule py-1.5">
        {[undefined, ...(shelf?.categories ?? [])].map((one) => (
          <button
            key={one?.id ?? ''}
            type="button"
            aria-pressed={category === one?.id}
            className="word aria-pressed:border-solid aria-pressed:font-medium aria-pressed:text-ink"
            onClick={() => setCategory(one?.id)}
          >
            {one?.name.toLowerCase() ?? words.all}
          </button>
        ))}
      </p>
      <ul>
        {shelf?.products.map((product) => (
          <li key={product.id} className="border-b border-dotted border-rule">
            <button
              type="button"
              aria-expanded={open === product.id}
              className="flex w-full items-baseline gap-2 py-1 text-left hover:bg-press"
              onClick={() => setOpen(open === product.id ? null : product.id)}
            >
              <span className="font-medium">{product.name}</span>
              <span className="min-w-4 flex-1 border-b border-dotted border-faded" aria-hidden="true" />
              <Price variants={product.variants} words={words} format={format} currency={currency} />
            </button>
            {open === product.id && <Item product={product} words={words} format={format} turn={turn} />}
          </li>
        ))}
      </ul>
      {shelf?.products.length === 0 && <p className="py-2 text-faded">{words.none}</p>}
    </>
  );
}

// The lowest price, and what it was where it is struck.
function Price({ variants, words, format, currency }: { variants: Product['variants']; words: Words; format: Format; currency: string }) {
  const [first] = [...variants].sort((left, right) => Number(left.price) - Number(right.price));
  if (!first) return null;
  const several = variants.some((variant) => variant.price !== first.price);
  return (
    <span className="whitespace-nowrap">
      {several && `${words.from} `}
      {!several && first.price !== first.regular && <s className="text-faded">{format.plain(first.regular, currency)}</s>}{' '}
      {format.plain(first.price, currency)}
    </span>
  );
}

function Item({ product, words, format, turn }: { product: Product; words: Words; format: Format; turn: unknown }) {
  const { info } = useShopContext();
  const { cart, addItems } = useCart();
  const [looked] = product.variants;
  const { data: told } = useOffers({ sku: looked?.sku, show: 'item', ...whoAsks(cart, words.tag) }, turn);
  const offers = told?.offers ?? [];
  const currency = cart.currency ?? info.currency;
  return (
    <div className="pb-2 pl-3" data-testid="item">
      {product.brand && <p className="text-faded">{product.brand}</p>}
      <ul>
        {product.variants.map((variant) => (
          <li key={variant.sku} className="flex items-baseline gap-2">
            <span className="min-w-0 flex-1">
              {variant.options || product.name}
              {variant.stock === 0 && <span className="text-faded"> · {words.gone}</span>}
              {variant.stock != null && variant.stock > 0 && variant.stock <= 3 && (
                <span className="text-faded"> · {words.few(variant.stock)}</span>
              )}
            </span>
            {variant.price !== variant.regular && <s className="text-faded">{format.plain(variant.regular, currency)}</s>}
            <span>{format.plain(variant.price, currency)}</span>
            <button
              type="button"
              className="word"
              aria-label={`${words.add}: ${product.name} ${variant.options}`}
              onClick={() => addItems([{ sku: variant.sku, quantity: 1 }])}
            >
              {words.add}
            </button>
          </li>
        ))}
      </ul>
      {offers.map((offer) => (
        <div key={offer.promotion} className="mt-1" data-testid="item-offer">
          <p>
            <span className="text-red">{offer.label}</span>
            {offer.takes.length > 0 && <span className="text-faded"> {offer.takes.join(', ')}</span>}
          </p>
          {offer.prices && (
            <ul className="flex flex-wrap gap-x-4">
              {offer.prices.slice(0, 6).map((price) => (
                <li key={price.units}>
                  {words.units(price.units)} <span className="font-medium">{format.plain(price.total, currency)}</span>
                </li>
              ))}
            </ul>
          )}
        </div>
      ))}
    </div>
  );
}
