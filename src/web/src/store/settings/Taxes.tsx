import { problemsUnder } from '../../shop/document';
import { Choice } from '../../ui/Choice';
import { toNumber, toText } from '../../ui/numbers';
import { Sheet } from '../../ui/Sheet';
import type { Tax, TaxRate } from './documents';
import { Said } from './Parts';
import type { Settings } from './useSettings';

const MODES = [
  { value: 'inclusive', words: 'include tax' },
  { value: 'exclusive', words: 'come before tax' },
  { value: 'none', words: 'know no tax' },
];

/** Whether prices include tax, and the rates by class and place. */
export function Taxes({ of }: { of: Settings }) {
  const tax: Tax = of.store.tax ?? { mode: 'none' };
  const rates = tax.rates ?? [];
  const classes = [...new Set(rates.map((rate) => rate.class).filter((name) => name !== ''))];
  const put = (part: Partial<Tax>) => of.change('store', 'tax', { ...tax, ...part });
  const wanting = (at: number, member: string) => problemsUnder(of.problems, `/store/tax/rates/${at}/${member}`).length > 0;
  return (
    <Said of={of} name="Taxes" members={['/store/tax']}>
      Prices{' '}
      <Choice
        label="Tax"
        value={tax.mode}
        options={MODES}
        onChange={(mode) => (mode === 'none' && rates.length === 0 ? of.change('store', 'tax', undefined) : put({ mode }))}
      />
      {tax.mode !== 'none' && (
        <>
          . Delivery is of the class{' '}
          <Choice
            label="Tax class of delivery"
            value={tax.shippingClass ?? ''}
            options={[{ value: '-', words: 'none, it is not taxed' }, ...classes.map((name) => ({ value: name, words: name }))]}
            onChange={(name) => put({ shippingClass: name === '-' ? undefined : name })}
          />
          .
          <Sheet<TaxRate>
            label="Rates of tax"
            row="rate"
            rows={rates}
            least={0}
            onRows={(next) => put({ rates: next })}
            fresh={(last) => ({ class: last?.class ?? 'standard', place: '', percent: '' })}
            columns={[
              {
                head: 'class',
                text: { get: (row) => row.class, set: (row, text) => ({ ...row, class: text.trim() }) },
                wanting: (at) => wanting(at, 'class'),
              },
              {
                head: 'place',
                text: { get: (row) => row.place, set: (row, text) => ({ ...row, place: text.trim().toUpperCase() }), placeholder: 'DE' },
                wanting: (at) => wanting(at, 'place'),
              },
              {
                head: '%',
                text: {
                  get: (row) => toText(row.percent),
                  set: (row, text) => ({ ...row, percent: toNumber(text) ?? '' }),
                  inputMode: 'decimal',
                },
                wanting: (at) => wanting(at, 'percent'),
              },
              {
                head: 'in',
                cell: (row) => (
                  <span className="text-faded">{of.settings.places?.find((place) => place.code === row.place)?.name ?? row.place}</span>
                ),
              },
            ]}
          />
        </>
      )}
    </Said>
  );
}
