import { useRef, useState } from 'react';
import type { PrintedLine, TapePrint } from '../api/client';
import { useItems } from '../api/queries';
import { useShopContext } from '../shop/shop';
import { Finder } from '../ui/Finder';
import { isZero } from '../ui/format';
import { Typed } from '../ui/Typed';
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
  const open = q.trim().length > 0;
  const currency = cart.currency ?? info.currency;
  const { data: found = [] } = useItems(q, currency, open);
  return (
    <div className="not-printed relative px-3">
      <Finder
        ref={input}
        id="add-item"
        className="h-6 w-full border-b-0"
        listClass={open ? 'absolute right-3 left-3 z-10 max-h-64 overflow-y-auto border border-ink bg-paper shadow-lift' : 'hidden'}
        label="Add an item"
        placeholder="+ add an item: type its name"
        value={q}
        onType={setQ}
        found={open ? found : []}
        keyOf={(item) => item.sku}
        onTake={(item) => {
          addItems([{ sku: item.sku, quantity: 1 }]);
          setQ('');
          input.current?.focus();
        }}
        onKeyDown={(event) => {
          if (event.key !== 'Escape') return;
          setQ('');
          event.preventDefault();
        }}
        none={open ? 'Nothing of that name in the catalogue.' : undefined}
        row={(item) => (
          <>
            <span className="min-w-0 flex-1 truncate px-1">{item.name}</span>
            <span className="shrink-0 px-1 text-faded">
              {item.stock !== null && isZero(String(item.stock)) ? 'none in stock  ' : ''}
              {item.regular !== item.price && <s className="mr-1">{format.plain(item.regular, currency)}</s>}
              {format.plain(item.price, currency)}
            </span>
          </>
        )}
      />
    </div>
  );
}
