import { useId, useRef, useState } from 'react';
import type { PrintedLine, TapePrint } from '../api/client';
import { useItems } from '../api/queries';
import { useShopContext } from '../shop/shop';
import { isZero } from '../ui/format';
import { Typed } from '../ui/Typed';
import { useWalk } from '../ui/useWalk';
import { useCart } from './cart';
import { Across, Table } from './Table';

/** The lines of the cart, a table to those who listen: quantity by keys, struck regular price beside the current one, what each promotion took on demand. */
export function TapeLines({ print, lit }: { print: TapePrint; lit: string | null }) {
  const { cart } = useCart();
  return (
    <div className="border-b border-rule">
      {print.lines.length > 0 && (
        <Table name="Cart" columns={['quantity', 'item', 'each', 'together']}>
          {print.lines.map((line, place) => (
            // A line is its place and its SKU: the same SKU may stand twice.
            <CartLine
              key={`${place} ${line.sku}`}
              line={line}
              place={place}
              currency={print.currency}
              lit={lit}
              quantity={cart.lines[place]?.quantity ?? line.quantity}
            />
          ))}
        </Table>
      )}
      {print.lines.length === 0 && <p className="px-3 py-1 font-sans text-body text-faded">The cart is empty. Add something:</p>}
      <AddItem />
    </div>
  );
}

type LineProps = { line: PrintedLine; place: number; currency: string; lit: string | null; quantity: number };

function CartLine({ line, place, currency, lit, quantity }: LineProps) {
  const { format } = useShopContext();
  const { setQuantity } = useCart();
  const [shown, setShown] = useState(false);
  const isLit = lit !== null && line.parts.some((part) => part.promotion === lit);
  const money = (amount: string) => format.plain(amount, currency);
  // The focus goes on to the line that takes its place, or to where one is added.
  const remove = () => {
    const quantities = [...document.querySelectorAll<HTMLElement>('[data-cart-line] input')];
    (quantities[place + 1] ?? quantities[place - 1] ?? document.getElementById('add-item'))?.focus();
    setQuantity(place, 0);
  };
  return (
    <div role="rowgroup" data-cart-line className={`even:bg-band ${isLit ? 'outline outline-2 -outline-offset-2 outline-red' : ''}`}>
      <div role="row" className="grid grid-cols-[5.4rem_1fr_5.2rem_5.2rem] items-baseline gap-x-1 px-2 leading-[24px]">
        <span role="cell" className="flex items-baseline">
          <button
            type="button"
            className="not-printed h-6 w-6 text-faded hover:text-ink"
            aria-label={`One fewer ${line.name}`}
            onClick={() => (quantity > 1 ? setQuantity(place, quantity - 1) : remove())}
          >
            −
          </button>
          <Typed
            className="h-6 w-9 border-b border-rule bg-transparent text-center focus:border-ink"
            inputMode="numeric"
            label={`Quantity of ${line.name}`}
            value={String(quantity)}
            onType={(text) => {
              // Emptied, it waits for what is typed next.
              const typed = Number(text.trim());
              if (/^\s*\d{1,7}\s*$/.test(text) && typed > 0 && typed <= 1_000_000) setQuantity(place, typed);
            }}
            onBlur={(event) => {
              // None of it: it is taken out.
              if (/^\s*0+\s*$/.test(event.target.value)) setQuantity(place, 0);
            }}
            onKeyDown={(event) => {
              if (event.key === 'ArrowUp' || event.key === '+') setQuantity(place, quantity + 1);
              else if (event.key === 'ArrowDown' || event.key === '-') setQuantity(place, quantity - 1);
              else if (event.key === 'Delete') remove();
              else return;
              event.preventDefault();
            }}
          />
          <button
            type="button"
            className="not-printed h-6 w-6 text-faded hover:text-ink"
            aria-label={`One more ${line.name}`}
            onClick={() => setQuantity(place, quantity + 1)}
          >
            +
          </button>
        </span>
        <span role="cell" className="min-w-0">
          <button
            type="button"
            className="max-w-full break-words text-left leading-[18px] hover:underline"
            aria-expanded={shown}
            title={`${line.name} · ${line.sku}`}
            onClick={() => setShown(!shown)}
          >
            {line.name}
          </button>
        </span>
        <span role="cell" className="text-right text-faded">
          {line.unitRegular !== line.unitPrice && (
            <s className="mr-1 whitespace-nowrap" title="regular price">
              {money(line.unitRegular)}
            </s>
          )}
          <span className="whitespace-nowrap">{money(line.unitPrice)}</span>
        </span>
        <span role="cell" className="text-right" data-testid="line-goods">
          {money(line.goods)}
        </span>
      </div>
      {shown && (
        <Across>
          <dl className="grid grid-cols-[1fr_6rem] gap-x-1 px-3 pb-1 pl-[5.6rem]">
            {line.parts.map((part) => (
              <div key={part.promotion} className="contents text-red">
                <dt className="min-w-0 break-words">
                  {part.label}, on {part.units}
                </dt>
                <dd className="text-right">−{money(part.amount)}</dd>
              </div>
            ))}
            <dt className="text-faded">to pay</dt>
            <dd className="text-right">{money(line.net)}</dd>
            <dt className="text-faded">margin {line.cost === null ? '(its cost is not known)' : `after cost of ${money(line.cost)}`}</dt>
            <dd className={`text-right ${line.margin?.startsWith('-') ? 'text-red' : ''}`}>
              {line.margin === null ? 'unknown' : money(line.margin)}
            </dd>
          </dl>
        </Across>
      )}
    </div>
  );
}

function AddItem() {
  const { addItems, cart } = useCart();
  const { format, info } = useShopContext();
  const [q, setQ] = useState('');
  const input = useRef<HTMLInputElement>(null);
  const list = useId();
  const open = q.trim().length > 0;
  const currency = cart.currency ?? info.currency;
  const { data: found = [] } = useItems(q, currency, open);
  const { at, setAt, walk } = useWalk(found.length);
  const choose = (sku: string | undefined) => {
    if (!sku) return;
    addItems([{ sku, quantity: 1 }]);
    setQ('');
    setAt(0);
    input.current?.focus();
  };
  return (
    <div className="not-printed relative px-3">
      <input
        ref={input}
        id="add-item"
        role="combobox"
        aria-expanded={open}
        aria-controls={list}
        aria-activedescendant={open && found[at] ? `${list}-${at}` : undefined}
        aria-label="Add an item"
        placeholder="+ add an item: type its name"
        className="h-6 w-full bg-transparent"
        autoComplete="off"
        value={q}
        onChange={(event) => {
          setQ(event.target.value);
          setAt(0);
        }}
        onKeyDown={(event) => {
          if (walk(event)) return;
          if (event.key === 'Enter') choose(found[at]?.sku);
          else if (event.key === 'Escape') setQ('');
          else return;
          event.preventDefault();
        }}
      />
      {open && (
        <div
          id={list}
          role="listbox"
          tabIndex={-1}
          aria-label="Items found"
          className="absolute right-3 left-3 z-10 max-h-64 overflow-y-auto border border-ink bg-paper shadow-lift"
        >
          {found.length === 0 && <p className="px-2 py-1 text-faded">Nothing of that name in the catalogue.</p>}
          {found.map((item, place) => (
            <button
              type="button"
              tabIndex={-1}
              role="option"
              id={`${list}-${place}`}
              aria-selected={place === at}
              key={item.sku}
              className={`flex w-full justify-between gap-2 px-2 text-left ${place === at ? 'bg-press' : place % 2 ? '' : 'bg-band'}`}
              onMouseEnter={() => setAt(place)}
              onClick={() => choose(item.sku)}
            >
              <span className="truncate">{item.name}</span>
              <span className="shrink-0 text-faded">
                {item.stock !== null && isZero(String(item.stock)) ? 'none in stock  ' : ''}
                {item.regular !== item.price && <s className="mr-1">{format.plain(item.regular, currency)}</s>}
                {format.plain(item.price, currency)}
              </span>
            </button>
          ))}
        </div>
      )}
    </div>
  );
}
