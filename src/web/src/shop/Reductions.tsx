import type { StoreResult } from '../api/client';
import { type Format, isZero, subtract } from '../ui/format';

/** How the parts of a sum are called. */
export type SumWords = Record<'goods' | 'delivery' | 'tax' | 'taxIn' | 'credit' | 'due', string> & { points: (count: number) => string };

/** From the goods to what is to pay: every reduction by its name, gifts, delivery, tax and credit. It adds up. */
export function Reductions({ told, words, format }: { told: StoreResult; words: SumWords; format: Format }) {
  const plain = (amount: string) => format.plain(amount, told.currency);
  const totals = told.totals;
  const off = told.promotions.filter((promotion) => promotion.from === 'order' && !isZero(promotion.amount));
  const onTop = subtract(subtract(totals.total, totals.net), subtract(totals.shipping, totals.shippingDiscount));
  // What gifts are worth stands among the goods, so that what is taken off them can be taken off.
  const gifts = told.gifts.filter((gift) => !isZero(gift.value));
  return (
    <dl className="grid grid-cols-[1fr_auto] border-b border-rule py-1" data-testid="reductions">
      <dt>{words.goods}</dt>
      <dd className="pl-3 text-right" data-amount={totals.goods}>
        {plain(totals.goods)}
      </dd>
      {gifts.map((gift) => (
        <Row key={`${gift.promotion} ${gift.sku}`} words={`${gift.quantity} ${gift.name}`} amount={gift.value} plain={plain} />
      ))}
      {!isZero(totals.shipping) && <Row words={words.delivery} amount={totals.shipping} plain={plain} />}
      {off.map((promotion) => (
        <Row key={promotion.id} words={promotion.label} amount={`-${promotion.amount}`} plain={plain} red promotion={promotion.id} />
      ))}
      {!isZero(onTop) && <Row words={words.tax} amount={onTop} plain={plain} />}
      {!isZero(totals.credit) && <Row words={words.credit} amount={`-${totals.credit}`} plain={plain} red />}
      <dt className="border-t border-ink font-medium">{words.due}</dt>
      <dd className="border-t border-ink pl-3 text-right font-medium" data-testid="to-pay" data-due={totals.due}>
        {format.money(totals.due, told.currency)}
      </dd>
      {isZero(onTop) && !isZero(totals.tax) && (
        <>
          <dt className="text-faded">{words.taxIn}</dt>
          <dd className="text-right text-faded">{plain(totals.tax)}</dd>
        </>
      )}
      {totals.points > 0 && <dt className="col-span-2">{words.points(totals.points)}</dt>}
    </dl>
  );
}

type RowProps = { words: string; amount: string; plain: (amount: string) => string; red?: boolean; promotion?: string };

function Row({ words, amount, plain, red = false, promotion }: RowProps) {
  return (
    <>
      <dt className={red ? 'text-red' : ''}>{words}</dt>
      <dd className={`pl-3 text-right ${red ? 'text-red' : ''}`} data-amount={amount} data-promotion={promotion}>
        {amount.startsWith('-') ? `−${plain(amount.slice(1))}` : plain(amount)}
      </dd>
    </>
  );
}
