import { useState } from 'react';
import { useShoppers } from '../api/queries';
import { Reductions } from '../shop/Reductions';
import { useShopContext } from '../shop/shop';
import { useCart } from '../tape/cart';
import { Choice } from '../ui/Choice';
import { type Format, isZero } from '../ui/format';
import type { Told } from './store';
import type { Words } from './words';

type Props = {
  told: Told;
  words: Words;
  format: Format;
  refused: string | null;
  busy: boolean;
  /** Null: what is not live cannot be ordered. */
  onOrder: (() => void) | null;
  onLook: () => void;
};

/** The basket as a page of a receipt pad: what is in it, what came off and why, what is near, and what is to pay. */
export function Basket({ told, words, format, refused, busy, onOrder, onLook }: Props) {
  const { info } = useShopContext();
  const { cart, who, change, setQuantity, pick, letBuy, addItems } = useCart();
  const [code, setCode] = useState('');
  const { data: regulars = [] } = useShoppers('', true);
  const plain = (amount: string) => format.plain(amount, told.currency);
  const normal = (text: string) => text.normalize('NFKC').trim().toUpperCase();
  // As many as were pressed, before the answer is there.
  const unitsAt = (place: number, line: { sku: string; quantity: number }) =>
    cart.lines[place]?.sku === line.sku ? cart.lines[place].quantity : line.quantity;
  if (cart.lines.length === 0) return <p className="py-3">{words.empty}</p>;
  return (
    <>
      <ul className="border-b border-rule py-1">
        {told.lines.map((line, place) => (
          <li key={`${line.sku} ${place}`} className="flex items-baseline gap-2 py-0.5" data-testid="basket-line">
            <button
              type="button"
              className="px-1"
              aria-label={`${words.less}: ${line.name}`}
              onClick={() => setQuantity(place, unitsAt(place, line) - 1)}
            >
              −
            </button>
            <span className="w-6 text-right">{unitsAt(place, line)}</span>
            <button
              type="button"
              className="px-1"
              aria-label={`${words.more}: ${line.name}`}
              onClick={() => setQuantity(place, unitsAt(place, line) + 1)}
            >
              +
            </button>
            <span className="min-w-0 flex-1">{line.name}</span>
            {line.regular !== line.goods && <s className="text-faded">{plain(line.regular)}</s>}
            <span>{plain(line.goods)}</span>
          </li>
        ))}
      </ul>
      <Reductions told={told} words={words} format={format} />
      {told.promotions
        .filter((promotion) => promotion.toPick)
        .map((promotion) => (
          <div key={promotion.id} className="border-b border-rule py-1" data-testid="to-pick">
            <p className="text-red">
              {promotion.label}. {words.choose(promotion.toPick?.units ?? 1)}:
            </p>
            <p className="flex flex-wrap gap-x-3">
              {promotion.toPick?.items.map((item) => (
                <button key={item.sku} type="button" className="word" onClick={() => pick(promotion.id, item.sku)}>
                  {item.name}
                </button>
              ))}
            </p>
          </div>
        ))}
      <div className="border-b border-rule py-1">
        {told.codes.map((one) => (
          <p key={one.code} className="flex items-baseline gap-2" data-testid="counter-code" data-status={one.status}>
            <span className="font-medium">{one.code}</span>
            <span className={`min-w-0 flex-1 ${one.status === 'applied' ? '' : 'text-doubt'}`}>{one.shopper}</span>
            <button
              type="button"
              className="word"
              aria-label={`${words.take}: ${one.code}`}
              onClick={() => change({ codes: cart.codes.filter((entered) => normal(entered) !== one.code) })}
            >
              {words.take}
            </button>
          </p>
        ))}
        <form
          className="flex gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            if (code.trim() === '') return;
            change({ codes: [...cart.codes.filter((entered) => normal(entered) !== normal(code)), code.trim()] });
            setCode('');
          }}
        >
          <input
            aria-label={words.code}
            placeholder={words.code}
            className="min-w-0 flex-1 bg-transparent"
            value={code}
            autoComplete="off"
            onChange={(event) => setCode(event.target.value)}
          />
          <button type="submit" className="word">
            {words.enter}
          </button>
        </form>
      </div>
      <Nearing told={told} onAdd={addItems} />
      <p className="border-b border-rule py-1 leading-7">
        {words.who}{' '}
        <Choice
          label={words.who}
          value={cart.shopper?.id ?? 'guest'}
          options={[
            { value: 'guest', words: words.guest },
            ...regulars.slice(0, 8).map((one) => ({ value: one.id, words: `${one.name}${one.groups[0] ? ` (${one.groups[0]})` : ''}` })),
            ...(cart.shopper?.id && !regulars.slice(0, 8).some((one) => one.id === cart.shopper?.id)
              ? [{ value: cart.shopper.id, words: who }]
              : []),
          ]}
          onChange={(id) => letBuy(regulars.find((one) => one.id === id) ?? null)}
        />
        , {words.to}{' '}
        <Choice
          label={words.to}
          value={cart.destination ?? ''}
          options={info.places.map((place) => ({ value: place.code, words: place.name }))}
          onChange={(destination) => change({ destination })}
        />{' '}
        {words.by}{' '}
        <Choice
          label={words.by}
          value={cart.method ?? ''}
          options={info.methods.map((method) => ({ value: method.id, words: method.name }))}
          onChange={(method) => change({ method })}
        />
      </p>
      {told.totals.shippingUnavailable && <p className="text-doubt">{words.unavailable}</p>}
      {refused && (
        <p role="alert" className="border border-doubt bg-doubted px-2 py-1 text-doubt">
          {refused}{' '}
          <button type="button" className="word" onClick={onLook}>
            ok
          </button>
        </p>
      )}
      <p className="pt-3 text-center">
        <button
          type="button"
          className="border-2 border-ink px-4 py-1 font-medium hover:bg-press aria-disabled:opacity-50"
          aria-disabled={busy || onOrder === null || told.totals.shippingUnavailable}
          onClick={() => !busy && !told.totals.shippingUnavailable && onOrder?.()}
        >
          {words.place} {format.money(told.totals.due, told.currency)}
        </button>
      </p>
      {!isZero(told.totals.saving) && (
        <p className="pt-1 text-center text-doubt">
          {words.saved} {format.money(told.totals.saving, told.currency)}
        </p>
      )}
    </>
  );
}

/** What is near: a ruled line that fills with ink, its amount in words; and what one more would bring. */
function Nearing({ told, onAdd }: { told: Told; onAdd: (items: { sku: string; quantity: number }[]) => void }) {
  const paths = told.progress
    .map((path) => ({ path, step: path.steps.find((one) => !one.reached) }))
    .map(({ path, step }) => ({ path, step, share: step ? Number(path.at) / Math.max(1e-9, Number(step.from)) : 1 }))
    .filter(({ share }) => share > 0 && share < 1)
    .sort((left, right) => right.share - left.share)
    .slice(0, 4);
  const others = told.nudges.filter((nudge) => !paths.some(({ path }) => path.promotion === nudge.promotion)).slice(0, 3);
  if (paths.length === 0 && others.length === 0) return null;
  return (
    <div className="border-b border-rule py-1">
      {paths.map(({ path, step, share }) => (
        <div key={`${path.promotion} ${path.measure}`} className="py-0.5" data-testid="progress" data-promotion={path.promotion}>
          <p>{step?.shopper}</p>
          <div className="h-[3px] border-b border-rule" aria-hidden="true">
            <div className="h-[3px] bg-ink" style={{ width: `${Math.round(share * 100)}%` }} />
          </div>
        </div>
      ))}
      {others.map((nudge) => (
        <p key={nudge.promotion} className="flex items-baseline gap-2" data-testid="counter-nudge">
          <span className="min-w-0 flex-1">{nudge.shopper}</span>
          <button
            type="button"
            className="word"
            aria-label={`+ ${nudge.add.map((item) => item.name).join(', ')}`}
            onClick={() => onAdd(nudge.add)}
          >
            +
          </button>
        </p>
      ))}
    </div>
  );
}
