import { useMemo } from 'react';
import { Clause } from '../../shop/Clause';
import { problemsUnder } from '../../shop/document';
import { guessed } from '../../shop/guesses';
import { useShopContext } from '../../shop/shop';
import { Choice } from '../../ui/Choice';
import { toNumber } from '../../ui/numbers';
import { Sheet } from '../../ui/Sheet';
import { Ticks } from '../../ui/Ticks';
import { Delivery } from './Delivery';
import type { Family, NamedPlace } from './documents';
import { Part, Said } from './Parts';
import { Taxes } from './Taxes';
import type { Settings as Writing } from './useSettings';

/** The shop's settings as sentences. What is typed is looked at with every change and holds once it is stamped. */
export function Settings({ of }: { of: Writing }) {
  const { info } = useShopContext();
  const guess = useMemo(() => guessed(), []);
  const { settings, store } = of;
  if (of.error) return <p className="px-4 py-2 text-doubt">⚠ {of.error.message}</p>;
  if (!of.isRead) return null;
  return (
    <section aria-label="Settings">
      <div className="border-b border-rule">
        <Said of={of} name="Called" members={['/settings/name']}>
          The shop is called{' '}
          <Part of={of} which="settings" member="name" label="The shop’s name" placeholder="its name" prose value={settings.name} />.
          {info.isDemo && (
            <span className="text-faded">
              {' '}
              This is the demo shop. Your own begins in a file of its own: rapid-ledger serve --data my-shop.db
            </span>
          )}
        </Said>
        <Sells of={of} currencies={guess.currencies} />
        <Said of={of} name="Days" members={['/store/timeZone', '/settings/locale']}>
          begin in{' '}
          <Choice
            label="Time zone"
            value={store.timeZone ?? 'UTC'}
            options={guess.zones}
            onChange={(zone) => of.change('store', 'timeZone', zone)}
          />
          . Amounts and dates are written as in{' '}
          <Part
            of={of}
            which="settings"
            member="locale"
            label="Language and country in which amounts and dates are written"
            value={settings.locale}
            read={(text) => text.trim()}
          />{' '}
          <span className="text-faded">{localeWords(settings.locale)}</span>
        </Said>
        <Delivery of={of} />
        <Taxes of={of} />
        <Said of={of} name="Places" members={['/settings/places']}>
          are known by these names:
          <Sheet<NamedPlace>
            label="Names of places"
            row="place"
            rows={settings.places ?? []}
            least={0}
            onRows={(places) => of.change('settings', 'places', places)}
            fresh={() => ({ code: '', name: '' })}
            columns={[
              {
                head: 'code',
                text: {
                  get: (row) => row.code,
                  set: (row, text) => ({ ...row, code: text.trim().toUpperCase() }),
                  placeholder: 'DE or ES-CN',
                },
                wanting: (at) => problemsUnder(of.problems, `/settings/places/${at}/code`).length > 0,
              },
              {
                head: 'name',
                text: { get: (row) => row.name, set: (row, text) => ({ ...row, name: text }) },
                wanting: (at) => problemsUnder(of.problems, `/settings/places/${at}/name`).length > 0,
              },
            ]}
          />
        </Said>
        <Said of={of} name="Families" members={['/store/families']}>
          of promotions:
          <Sheet<Family>
            label="Families of promotions"
            row="family"
            rows={store.families ?? []}
            least={0}
            onRows={(families) => of.change('store', 'families', families)}
            fresh={() => ({ name: '', onePerCart: true })}
            columns={[
              {
                head: 'name',
                text: { get: (row) => row.name, set: (row, text) => ({ ...row, name: text }) },
                wanting: (at) => problemsUnder(of.problems, `/store/families/${at}`).length > 0,
              },
              {
                head: 'in one cart',
                cell: (row, at) => (
                  <Choice
                    label={`How many of family ${at + 1} in one cart`}
                    value={row.onePerCart ? 'one' : 'any'}
                    options={[
                      { value: 'one', words: 'one of them' },
                      { value: 'any', words: 'as many as fit' },
                    ]}
                    onChange={(next) =>
                      of.change(
                        'store',
                        'families',
                        (store.families ?? []).map((family, place) => (place === at ? { ...family, onePerCart: next === 'one' } : family)),
                      )
                    }
                  />
                ),
              },
            ]}
          />
        </Said>
        <Said of={of} name="Chooses" members={['/store/policy', '/settings/effort']}>
          among promotions that cannot all apply{' '}
          <Choice
            label="Which promotions apply"
            value={store.policy ?? 'best'}
            options={[
              { value: 'best', words: 'those that save the shopper most' },
              { value: 'rank', words: 'by rank, the lowest first' },
            ]}
            onChange={(policy) => of.change('store', 'policy', policy)}
          />
          , and puts into a choice{' '}
          <Part
            of={of}
            which="settings"
            member="effort"
            label="Effort"
            value={settings.effort ?? 1}
            read={(text) => toNumber(text) ?? null}
          />{' '}
          times the usual work.
        </Said>
        <Said of={of} name="Rounds" members={['/store/rounding']}>
          half a cent{' '}
          <Choice
            label="Rounding"
            value={store.rounding ?? 'halfUp'}
            options={[
              { value: 'halfUp', words: 'up' },
              { value: 'halfEven', words: 'to the even cent' },
            ]}
            onChange={(rounding) => of.change('store', 'rounding', rounding)}
          />
          .
        </Said>
        <Said of={of} name="Warns" members={['/store/marginFloor']}>
          of margins below{' '}
          <Part
            of={of}
            which="store"
            member="marginFloor"
            label="The margin floor in percent"
            placeholder="no floor"
            value={store.marginFloor}
            read={(text) => toNumber(text) ?? null}
          />
          {store.marginFloor == null ? '' : ' %'}.
        </Said>
        <Said of={of} name="Holds" members={['/settings/holdMinutes']}>
          an order that is not paid yet for{' '}
          <Part
            of={of}
            which="settings"
            member="holdMinutes"
            label="How long an order is held, in minutes"
            value={settings.holdMinutes ?? 30}
            read={(text) => toNumber(text) ?? null}
          />{' '}
          minutes.
        </Said>
        <Said of={of} name="Links" members={['/settings/link']}>
          that carry a code are{' '}
          <Part
            of={of}
            which="settings"
            member="link"
            label="The form of links that carry a code"
            placeholder="the counter’s own on this machine"
            prose
            value={settings.link}
            read={(text) => text.trim() || null}
          />
          {settings.link == null && (
            <span className="text-faded"> Write your shop’s address, such as https://shop.example/?code={'{code}'}</span>
          )}
        </Said>
        <Said of={of} name="Speaks" members={['/store/language']}>
          to shoppers in{' '}
          <Choice
            label="The shoppers’ language"
            value={store.language ?? 'en'}
            options={info.languages.map((value) => ({ value, words: languageWords(value) }))}
            onChange={(language) => of.change('store', 'language', language)}
          />{' '}
          where a cart says no other.
        </Said>
      </div>
    </section>
  );
}

type Option = { value: string; words: string };

/** In which currencies it sells, and through which channels. */
function Sells({ of, currencies }: { of: Writing; currencies: Option[] }) {
  const { settings, store } = of;
  const rates = Object.entries(store.rates ?? {}).map(([code, rate]) => ({ code, rate }));
  const put = (next: { code: string; rate: string }[]) =>
    of.change('store', 'rates', Object.fromEntries(next.map((row) => [row.code, row.rate])));
  return (
    <Clause
      name="Sells"
      problems={['/store/currency', '/store/rates', '/settings/channels'].flatMap((member) => problemsUnder(of.problems, member))}
    >
      in <Choice label="Currency" value={store.currency} options={currencies} onChange={(code) => of.change('store', 'currency', code)} />
      {rates.length > 0 ? ', and for 1 of it also in' : ''}
      {rates.map((row, at) => (
        <span key={row.code}>
          {at > 0 && ' or'}{' '}
          <Part
            of={of}
            which="store"
            member={`rates/${row.code}`}
            label={`What 1 ${store.currency} is in ${row.code}`}
            placeholder="the rate"
            value={row.rate}
            onText={(text) => put(rates.map((old, place) => (place === at ? { ...old, rate: text.trim().replace(',', '.') } : old)))}
          />{' '}
          {row.code}
          <button
            type="button"
            className="min-h-6 min-w-6 px-1 text-faded hover:text-ink"
            aria-label={`Sell no longer in ${row.code}`}
            onClick={() => put(rates.filter((_, place) => place !== at))}
          >
            ×
          </button>
        </span>
      ))}{' '}
      <Choice
        label="Add a currency"
        value=""
        className="word"
        options={currencies.filter((one) => one.value !== store.currency && !rates.some((row) => row.code === one.value))}
        placeholder="another currency"
        onChange={(code) => put([...rates, { code, rate: '' }])}
      />
      . Its channels are{' '}
      <Ticks
        label="Sales channels"
        values={settings.channels ?? ['web']}
        options={(settings.channels ?? ['web']).map((value) => ({ value, words: value }))}
        joint="and"
        free
        onChange={(channels) => of.change('settings', 'channels', channels)}
      />
      .
    </Clause>
  );
}

const languageWords = (tag: string) => new Intl.DisplayNames(['en'], { type: 'language' }).of(tag) ?? tag;

function localeWords(tag: string) {
  try {
    return languageWords(tag);
  } catch {
    return '';
  }
}
