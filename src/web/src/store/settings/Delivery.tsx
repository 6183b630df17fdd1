import { Remove } from '../../shop/Clause';
import { problemsUnder } from '../../shop/document';
import { toAmount, toNumber, toText } from '../../ui/numbers';
import { Ticks } from '../../ui/Ticks';
import { Typed } from '../../ui/Typed';
import type { Band, Method } from './documents';
import { Said } from './Parts';
import type { Settings } from './useSettings';

/** By which ways goods are delivered: where to, at what price by weight, and what it costs the shop. */
export function Delivery({ of }: { of: Settings }) {
  const { currency, shipping: methods = [] } = of.store;
  const change = (next: Method[]) => of.change('store', 'shipping', next);
  const put = (place: number, part: Partial<Method>) =>
    change(methods.map((method, at) => (at === place ? { ...method, ...part } : method)));
  const names = (of.settings.places ?? []).map((place) => ({ value: place.code, words: place.name }));
  return (
    <Said of={of} name="Delivers" members={['/store/shipping']}>
      {methods.length === 0 && <p className="text-faded">No way of delivery yet: no cart has a delivery price.</p>}
      {methods.map((method, place) => (
        <p key={place} className="pb-1.5">
          by{' '}
          <Typed
            label={`Name of delivery ${place + 1}`}
            placeholder="its name"
            prose
            value={method.name ?? method.id}
            wanting={problemsUnder(of.problems, `/store/shipping/${place}/id`).length > 0}
            onType={(name) =>
              put(
                place,
                isThere(of, method.id)
                  ? { name }
                  : {
                      name,
                      id: idOf(
                        name,
                        methods.filter((_, at) => at !== place),
                        of,
                      ),
                    },
              )
            }
          />{' '}
          <span className="text-faded">({method.id || 'no name yet'})</span> with{' '}
          <Typed
            label={`Carrier of delivery ${place + 1}`}
            placeholder="no carrier named"
            prose
            value={method.carrier ?? ''}
            onType={(carrier) => put(place, { carrier: carrier.trim() === '' ? undefined : carrier })}
          />{' '}
          to{' '}
          <Ticks
            label={`Places of delivery ${place + 1}`}
            values={method.places?.in ?? []}
            empty="everywhere"
            orNone
            joint="and"
            options={names}
            free
            onChange={(values) => put(place, { places: placesOf({ ...method.places, in: values }) })}
          />
          {(method.places?.in?.length ?? 0) > 0 && (
            <>
              {' '}
              without{' '}
              <Ticks
                label={`Places left out of delivery ${place + 1}`}
                values={method.places?.out ?? []}
                empty="none of them"
                orNone
                joint="and"
                options={names}
                free
                onChange={(values) => put(place, { places: placesOf({ ...method.places, out: values }) })}
              />
            </>
          )}
          , for{' '}
          <Prices
            method={method}
            place={place}
            wanting={(at) => problemsUnder(of.problems, `/store/shipping/${place}${at}`).length > 0}
            currency={currency}
            onChange={(part) => put(place, part)}
          />
          ; it costs you{' '}
          <Typed
            label={`Cost of delivery ${place + 1}`}
            placeholder="not said"
            inputMode="decimal"
            value={amount(method.cost)}
            wanting={problemsUnder(of.problems, `/store/shipping/${place}/cost`).length > 0}
            onType={(text) => put(place, { cost: toAmount(text) })}
          />
          .
          <Remove label={`Take ${method.name ?? method.id} out`} onClick={() => change(methods.filter((_, at) => at !== place))} />
        </p>
      ))}
      <button type="button" className="word" onClick={() => change([...methods, { id: '', name: '', price: '0.00' }])}>
        another way of delivery
      </button>
    </Said>
  );
}

type PricesProps = {
  method: Method;
  place: number;
  currency: string;
  wanting: (at: string) => boolean;
  onChange: (part: Partial<Method>) => void;
};

/** One price, or prices by weight: the last may be for all that is heavier. */
function Prices({ method, place, currency, wanting, onChange }: PricesProps) {
  const { bands } = method;
  const number = place + 1;
  if (!bands)
    return (
      <>
        <Typed
          label={`Price of delivery ${number}`}
          inputMode="decimal"
          value={amount(method.price)}
          wanting={wanting('/price')}
          onType={(text) => onChange({ price: toAmount(text) ?? '' })}
        />{' '}
        {currency}
        <button
          type="button"
          className="word ml-2"
          aria-label={`by weight… for delivery ${number}`}
          onClick={() => onChange({ price: undefined, bands: [{ toGrams: 5000, price: method.price }, { price: method.price }] })}
        >
          by weight…
        </button>
      </>
    );
  const put = (next: Band[]) => onChange(next.length > 0 ? { bands: next } : { bands: undefined, price: '0.00' });
  return (
    <>
      {bands.map((band, at) => (
        <span key={at}>
          {at > 0 && ', '}
          <Typed
            label={`Price ${at + 1} of delivery ${number}`}
            inputMode="decimal"
            value={amount(band.price)}
            wanting={wanting(`/bands/${at}/price`)}
            onType={(text) => put(bands.map((old, other) => (other === at ? { ...old, price: toAmount(text) ?? '' } : old)))}
          />{' '}
          {at === 0 && `${currency} `}up to{' '}
          <Typed
            label={`Grams up to which price ${at + 1} of delivery ${number} holds`}
            placeholder="any weight"
            inputMode="numeric"
            value={toText(band.toGrams)}
            wanting={wanting(`/bands/${at}`)}
            onType={(text) => put(bands.map((old, other) => (other === at ? { ...old, toGrams: toNumber(text) } : old)))}
          />
          {band.toGrams !== undefined && ' g'}
          <Remove label={`Take price ${at + 1} of delivery ${number} out`} onClick={() => put(bands.filter((_, other) => other !== at))} />
        </span>
      ))}{' '}
      <button
        type="button"
        className="word"
        aria-label={`heavier… by delivery ${number}`}
        onClick={() => {
          const last = bands.at(-1);
          const above = bands.at(-2)?.toGrams;
          const to = last?.toGrams ?? (typeof above === 'number' ? above * 2 : 5000);
          put([...bands.slice(0, -1), { ...last, toGrams: to }, { price: last?.price ?? '0.00' }]);
        }}
      >
        heavier…
      </button>
    </>
  );
}

// Amounts by currency are written in files; here they are kept as they are.
const amount = (value: unknown) =>
  value !== null && typeof value === 'object'
    ? Object.entries(value)
        .map(([of, text]) => `${text} ${of}`)
        .join(', ')
    : toText(value);

const placesOf = (places: { in?: string[]; out?: string[] }) =>
  (places.in?.length ?? 0) === 0 ? undefined : { in: places.in, ...((places.out?.length ?? 0) > 0 ? { out: places.out } : {}) };

const isThere = (of: Settings, id: string) => id !== '' && (of.stands.store.shipping ?? []).some((method) => method.id === id);

// An id never changes once it stands; until then it follows the name. One that was there before is never another's.
function idOf(name: string, others: Method[], of: Settings) {
  const bare = name
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '');
  const taken = new Set([...others, ...(of.stands.store.shipping ?? [])].map((method) => method.id));
  let id = bare;
  for (let number = 2; taken.has(id); number++) id = `${bare}-${number}`;
  return id;
}
