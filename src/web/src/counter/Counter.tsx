import { useEffect, useMemo, useRef, useState } from 'react';
import { useSearchParams } from 'wouter';
import { type Json, Refused } from '../api/client';
import { useNowLive } from '../api/queries';
import { useShopContext } from '../shop/shop';
import { useCart } from '../tape/cart';
import { announce } from '../ui/announce';
import { formatIn } from '../ui/format';
import { Basket } from './Basket';
import { Receipt } from './Receipt';
import { ShelfList } from './ShelfList';
import { fresh, type Placed, useAsIfLive, usePlace, useQuote } from './store';
import { LANGUAGES, wordsIn } from './words';

type Props = {
  /** The page that was written last, if it is not live. */
  written: Json | null;
  asIfLive: boolean;
  onAsIfLive: (on: boolean) => void;
};

/** What they see: a small shop in which one plays the shopper. The tape beside it says why. */
export function Counter({ written, asIfLive, onAsIfLive }: Props) {
  const { info } = useShopContext();
  const { cart, change } = useCart();
  const { data: live } = useNowLive();
  const [query, setQuery] = useSearchParams();
  const [view, setView] = useState<'list' | 'basket'>('list');
  const [placed, setPlaced] = useState<Placed | null>(null);
  const { data: quoted, error } = useQuote(cart, live && `${live.edition?.number} ${live.uses}`);
  const { data: shown } = useAsIfLive(cart, asIfLive ? written : null);
  const section = useRef<HTMLElement>(null);
  const place = usePlace();
  // One key for each order: sent again, the same order is placed once.
  const [orders, setOrders] = useState(0);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another for each cart and each order
  const key = useMemo(fresh, [cart, orders]);
  const words = wordsIn(cart.language);
  const told = (asIfLive && shown) || quoted?.result;
  const format = useMemo(
    () =>
      formatIn(
        words.tag === 'de' ? 'de-DE' : info.locale.startsWith('en') ? info.locale : 'en-GB',
        info.timeZone,
        Object.fromEntries(info.currencies.map((currency) => [currency.code, currency.exponent])),
      ),
    [words.tag, info],
  );

  // A link with a code opens the shop with the code in.
  const brought = query.get('code');
  useEffect(() => {
    if (!brought) return;
    if (!cart.codes.some((code) => code.toUpperCase() === brought.toUpperCase())) change({ codes: [...cart.codes, brought] });
    setQuery({}, { replace: true });
  }, [brought, cart.codes, change, setQuery]);

  const units = cart.lines.reduce((sum, line) => sum + line.quantity, 0);
  const order = () =>
    quoted &&
    place.mutate(
      { cart, shown: quoted.shown, key },
      {
        // One that got no answer may have arrived: it is sent again under the same key.
        onError: (error) => {
          if (error instanceof Refused) setOrders((old) => old + 1);
        },
        onSuccess: (order) => {
          setOrders((old) => old + 1);
          announce(`${words.thanks} ${words.number} ${order.id}`);
          setPlaced(order);
          change({ lines: [], codes: [], picks: undefined });
        },
      },
    );
  const refusal = place.error instanceof Refused ? place.error : null;
  return (
    <section
      ref={section}
      tabIndex={-1}
      aria-label="Counter"
      className="counter h-full overflow-y-auto outline-none font-mono text-[13px] leading-5"
      data-testid="counter"
    >
      <div className="mx-auto flex min-h-full max-w-[390px] flex-col px-4 pt-3 pb-6">
        <header className="border-b border-ink pb-1 text-center">
          <h1 className="text-[17px] font-medium">{info.name}</h1>
          <p className="flex items-baseline justify-center gap-3">
            <span>{format.day(cart.at ?? info.now)}</span>
            {LANGUAGES.map((language) => (
              <button
                key={language.tag}
                type="button"
                lang={language.tag}
                aria-pressed={words.tag === language.tag}
                className="word aria-pressed:border-b-2 aria-pressed:border-solid aria-pressed:text-ink"
                onClick={() => change({ language: language.tag })}
              >
                {language.name}
              </button>
            ))}
          </p>
        </header>
        {written && (
          <label className="not-printed flex items-baseline gap-2 border-b border-rule py-1 font-sans text-faded">
            <input type="checkbox" checked={asIfLive} onChange={(event) => onAsIfLive(event.target.checked)} />
            with “{String(written.name || written.label || 'the page')}” as it is being written
          </label>
        )}
        {placed ? (
          <Receipt
            order={placed}
            words={words}
            format={format}
            onClose={() => {
              setPlaced(null);
              setView('list');
              window.setTimeout(() => section.current?.focus());
            }}
          />
        ) : (
          <>
            <nav aria-label={info.name} className="flex gap-5 border-b border-rule py-1">
              {(['list', 'basket'] as const).map((one) => (
                <button
                  key={one}
                  type="button"
                  aria-current={view === one ? 'page' : undefined}
                  className="aria-[current]:border-b-2 aria-[current]:border-ink aria-[current]:font-medium"
                  onClick={() => setView(one)}
                >
                  {one === 'list' ? words.list : `${words.basket} (${units})`}
                </button>
              ))}
              <span className="flex-1 text-right font-medium" data-testid="counter-due">
                {told && format.money(told.totals.due, told.currency)}
              </span>
            </nav>
            {error && <p className="py-2 text-doubt">⚠ {told ? words.old : error.message}</p>}
            {view === 'list' ? (
              <ShelfList words={words} format={format} turn={live?.edition?.number} />
            ) : (
              told && (
                <Basket
                  told={told}
                  words={words}
                  format={format}
                  refused={
                    refusal
                      ? `${words.changed} ${refusal.problems.map((problem) => problem.message).join(' ')}`
                      : place.error
                        ? words.away
                        : null
                  }
                  busy={place.isPending}
                  onOrder={asIfLive && written ? null : order}
                  onLook={() => place.reset()}
                />
              )
            )}
          </>
        )}
      </div>
    </section>
  );
}
