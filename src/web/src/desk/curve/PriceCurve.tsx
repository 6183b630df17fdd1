import { memo, useState } from 'react';
import type { Cart, Json, PlottedPoint } from '../../api/client';
import { useCurve } from '../../api/queries';
import { isAboutWhom, isSameRule, topConditions } from '../../shop/document';
import { useShopContext } from '../../shop/shop';
import { useCart } from '../../tape/cart';
import { Choice } from '../../ui/Choice';
import { capital } from '../../ui/format';
import { useSettled } from '../../ui/useSettled';
import { type Against, Plot } from './Plot';

const MARKS: Record<string, string> = { cliff: '⚠', belowCost: '⚠', flat: '–', step: '·', begins: '·' };

/**
 * Under the clauses: what is paid against how many of an item, before and after. Moving along it moves the tape's cart.
 * @param sound the draft that makes sense as far as is known: no other is drawn
 */
export const PriceCurve = memo(function PriceCurve({ document, sound }: { document: Json; sound: Json | null }) {
  const { format } = useShopContext();
  const { cart, setUnits } = useCart();
  const [chosen, setChosen] = useState<string | undefined>();
  const [against, setAgainst] = useState<Against>('units');
  const [asTable, setAsTable] = useState(false);
  const [copied, setCopied] = useState(false);
  const text = JSON.stringify({ document, cart, chosen });
  const settled = useSettled(text);
  const asked = JSON.parse(settled) as { document: Json; cart: Cart; chosen?: string };
  const { data: curve, error } = useCurve(asked, settled === text && isSameRule(asked.document, sound));

  if (error && !curve)
    return (
      <section aria-label="Price curve" className="border-t border-rule px-4 py-2">
        <h2 className="head-word">price curve</h2>
        <p className="text-faded">{error.message}</p>
      </section>
    );
  if (!curve) return null;
  const money = (amount: string) => format.plain(amount, curve.currency);
  const units = cart.lines.filter((line) => line.sku === curve.sku).reduce((sum, line) => sum + line.quantity, 0);
  const say = (point: PlottedPoint) =>
    `with ${point.units} it costs ${money(point.after)}${point.after === point.before ? ', as without this rule' : ` instead of ${money(point.before)}`}${point.margin == null ? '' : `, margin ${money(point.margin)}`}`;
  // By its code, or for some only: it is drawn all the same.
  const trigger = (document.trigger ?? {}) as Json;
  const isOpened = Boolean(trigger.codes || trigger.batches) || topConditions(document).some(isAboutWhom);
  const here = curve.points.find((point) => point.units === units);
  const csv = () =>
    ['units,spend,before,after,margin', ...curve.points.map((p) => [p.units, p.spend, p.before, p.after, p.margin ?? ''].join(','))].join(
      '\r\n',
    );
  return (
    <section aria-label="Price curve" className="border-t border-rule px-4 py-2">
      <h2 className="head-word">price curve</h2>
      <p className="leading-[24px]">
        What the order costs against{' '}
        <Choice
          label="Against"
          value={against}
          options={[
            { value: 'units', words: 'the number' },
            { value: 'spend', words: 'the spend' },
          ]}
          onChange={(next) => setAgainst(next as Against)}
        />{' '}
        with more and more{' '}
        <Choice
          label="Item"
          value={curve.sku}
          options={curve.items.map((item) => ({ value: item.sku, words: item.name }))}
          onChange={setChosen}
        />
        {isOpened && ', as if it were open to this shopper'}
      </p>
      <Plot
        points={curve.points}
        marks={curve.marks}
        against={against}
        units={units}
        onMove={(next) => {
          setChosen(curve.sku);
          setUnits(curve.sku, next);
        }}
        say={say}
        money={money}
        label={`Units of ${curve.name} in the cart`}
      />
      <p data-testid="curve-here">
        {here ? `${capital(say(here))}.` : 'Press on the curve, or move along it with the arrow keys: the tape’s cart follows.'}
        {!curve.isWhole && ' Further on such carts take too long.'}
      </p>
      <ul>
        {curve.marks.map((mark) => (
          <li
            key={mark.kind}
            data-testid="curve-mark"
            data-kind={mark.kind}
            className={mark.kind === 'cliff' || mark.kind === 'belowCost' ? 'text-doubt' : ''}
          >
            <span aria-hidden="true">{MARKS[mark.kind]} </span>
            {mark.sentence}
          </li>
        ))}
      </ul>
      <p className="flex gap-4">
        <button type="button" className="word" aria-expanded={asTable} onClick={() => setAsTable((old) => !old)}>
          {asTable ? 'without the table' : 'as a table'}
        </button>
        <button
          type="button"
          className="word"
          onClick={async () => {
            await navigator.clipboard.writeText(csv());
            setCopied(true);
            window.setTimeout(() => setCopied(false), 2000);
          }}
        >
          {copied ? 'copied' : 'copy as CSV'}
        </button>
      </p>
      {asTable && (
        <table className="my-1 font-mono text-tape">
          <caption className="sr-only">What is paid with more and more {curve.name}</caption>
          <thead>
            <tr className="text-left text-faded">
              {['units', 'goods', 'before', 'after', 'margin'].map((word) => (
                <th key={word} scope="col" className="pr-6 text-right font-normal">
                  {word}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {curve.points.map((point) => (
              <tr key={point.units} className="odd:bg-band">
                <td className="pr-6 text-right">{point.units}</td>
                {[point.spend, point.before, point.after, point.margin].map((amount, place) => (
                  <td key={place} className="pr-6 text-right">
                    {amount == null ? 'not known' : money(amount)}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
});
