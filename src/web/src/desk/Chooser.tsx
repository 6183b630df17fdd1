import { useState } from 'react';
import type { FoundTerm, Json } from '../api/client';
import { useSelection, useTerms } from '../api/queries';
import { useShopContext } from '../shop/shop';
import { Finder } from '../ui/Finder';
import { toAmount, toText } from '../ui/numbers';
import { Popup } from '../ui/Popup';
import { isSame } from '../ui/same';
import { Typed } from '../ui/Typed';

type Term = Json;
type Props = { label: string; selection: Json | undefined; wanting: boolean; onChange: (selection: Json) => void; all?: string };

const KINDS: Record<string, string> = {
  category: 'category',
  brand: 'brand',
  product: 'product',
  sku: 'variant',
  tag: 'tag',
  option: 'variants',
};

/** Chooses a set of items: terms in and terms out, with the count of SKUs and a sample beside it as it changes. */
export function Chooser({ label, selection, wanting, onChange, all = 'every item' }: Props) {
  const isEmpty = ((selection?.in as Term[] | undefined) ?? []).length === 0;
  const { data: held } = useSelection(selection, !isEmpty);
  const words = isEmpty ? 'choose what' : isEverything(selection) ? all : (held?.words ?? '…');
  return (
    <Popup label={label} words={words} wanting={isEmpty || wanting} width={640}>
      {(close) => <Editor selection={selection ?? { in: [] }} onChange={onChange} close={close} />}
    </Popup>
  );
}

const isEverything = (selection: Json | undefined) =>
  !!selection &&
  (selection.in as Term[]).some((term) => 'all' in term) &&
  ((selection.out as Term[] | undefined) ?? []).length === 0 &&
  !selection.fullPriceOnly &&
  !selection.priceFrom &&
  !selection.priceTo;

function Editor({ selection, onChange, close }: { selection: Json; onChange: (selection: Json) => void; close: () => void }) {
  const { info, format } = useShopContext();
  const [q, setQ] = useState('');
  const { data: found = [] } = useTerms(q);
  // What was done last, for who did not see it.
  const [done, setDone] = useState('');
  const taken = (selection.in as Term[] | undefined) ?? [];
  const left = (selection.out as Term[] | undefined) ?? [];
  const { data: held } = useSelection(selection, taken.length > 0);
  const list = (name: 'in' | 'out', terms: Term[]) => onChange({ ...selection, [name]: terms });
  const put = (name: 'in' | 'out', found: FoundTerm) => {
    const term = found.term as Term;
    const key = JSON.stringify(term);
    const terms = (name === 'in' ? taken : left).filter((old) => JSON.stringify(old) !== key && !(name === 'in' && 'all' in old));
    list(name, [...terms, term]);
    setDone(`${found.name} is ${name === 'in' ? 'in' : 'excluded'}: ${found.count} ${found.count === 1 ? 'SKU' : 'SKUs'}.`);
    setQ('');
  };
  return (
    <div className="grid grid-cols-[1fr_15rem] gap-4">
      <div className="min-w-0">
        <Finder
          autoFocus
          className="w-full px-1"
          listClass="max-h-56 overflow-y-auto border-y border-rule"
          placeholder="find a category, brand, product, variant or tag"
          label="Find items"
          value={q}
          onType={setQ}
          found={found}
          keyOf={(term) => JSON.stringify(term.term)}
          onTake={(term, { isAside }) => put(isAside ? 'out' : 'in', term)}
          onDone={close}
          note={
            <p className="my-1 text-faded" role="status">
              {done || 'Enter includes · Alt Enter excludes · Enter in the empty field closes'}
            </p>
          }
          row={(term) => (
            <>
              <span className="min-w-0 flex-1">
                {holds(taken, term) ? '✓ ' : holds(left, term) ? '− ' : ''}
                {term.name} <span className="text-faded">{detailOf(term)}</span>
                {holds(taken, term) && <span className="sr-only"> (included)</span>}
                {holds(left, term) && <span className="sr-only"> (excluded)</span>}
              </span>
              <span className="text-faded">{term.count}</span>
              <span data-aside className="word shrink-0">
                exclude
              </span>
            </>
          )}
        />
        <Terms
          title="included"
          names={held?.in}
          terms={taken}
          onRemove={(place) =>
            list(
              'in',
              taken.filter((_, other) => other !== place),
            )
          }
        >
          <button type="button" className="word" onClick={() => list('in', [{ all: true }])}>
            every item
          </button>
        </Terms>
        <Terms
          title="excluded"
          names={held?.out}
          terms={left}
          onRemove={(place) =>
            list(
              'out',
              left.filter((_, other) => other !== place),
            )
          }
        />
        <p className="mt-2 flex flex-wrap items-baseline gap-x-3">
          <label>
            <input
              type="checkbox"
              className="mr-1 accent-[var(--stamp)]"
              checked={selection.fullPriceOnly === true}
              onChange={(event) => onChange({ ...selection, fullPriceOnly: event.target.checked })}
            />
            only at full price
          </label>
          <span>
            priced from{' '}
            <Typed
              label="Least price"
              placeholder="any"
              value={toText(selection.priceFrom)}
              onType={(text) => onChange(withPrice(selection, 'priceFrom', text))}
            />{' '}
            to{' '}
            <Typed
              label="Greatest price"
              placeholder="any"
              value={toText(selection.priceTo)}
              onType={(text) => onChange(withPrice(selection, 'priceTo', text))}
            />
          </span>
        </p>
      </div>
      <aside className="min-w-0 border-l border-rule pl-3">
        {taken.length === 0 || !held ? (
          <p className="text-doubt">Nothing is chosen yet.</p>
        ) : (
          <>
            <p className="font-medium" data-testid="selection-count" role="status">
              {format.number(held.count)} {held.count === 1 ? 'SKU' : 'SKUs'} of {format.number(held.products)}{' '}
              {held.products === 1 ? 'product' : 'products'}
            </p>
            {held.twice && <p className="text-doubt">⚠ {held.twice}</p>}
            <p className="head-word flex justify-between">
              <span>a sample</span>
              <span>price · margin</span>
            </p>
            <ul className="font-mono text-tape">
              {held.sample.map((item) => (
                <li key={item.sku} className="flex justify-between gap-2 odd:bg-band">
                  <span className="truncate" title={`${item.name} · ${item.sku}`}>
                    {item.name}
                  </span>
                  <span className="shrink-0">
                    {format.plain(item.price, info.currency)}{' '}
                    <span className="text-faded">{item.marginPercent === null ? '?' : `${Math.round(item.marginPercent)} %`}</span>
                  </span>
                </li>
              ))}
            </ul>
          </>
        )}
        <button type="button" className="word mt-3" onClick={close}>
          done
        </button>
      </aside>
    </div>
  );
}

const holds = (terms: Term[], found: FoundTerm) => terms.some((term) => isSame(term, found.term));

function detailOf(found: FoundTerm): string {
  if (found.kind === 'option') return found.detail;
  return found.detail && found.kind !== 'sku' ? `${KINDS[found.kind]}, ${found.detail}` : (KINDS[found.kind] ?? '');
}

function withPrice(selection: Json, name: string, text: string): Json {
  const amount = toAmount(text);
  const { [name]: _, ...rest } = selection;
  return amount === undefined ? rest : { ...rest, [name]: amount };
}

function Terms({
  title,
  names,
  terms,
  onRemove,
  children,
}: {
  title: string;
  /** As people read them, at the same places; while they are looked up, their names in files are shown. */
  names: string[] | undefined;
  terms: Term[];
  onRemove: (place: number) => void;
  children?: React.ReactNode;
}) {
  return (
    <p className="mt-1 flex flex-wrap items-baseline gap-x-2">
      <span className="head-word w-16">{title}</span>
      {terms.map((term, place) => {
        const [kind = '', value] = Object.entries(term)[0] ?? [];
        const words = kind === 'all' ? 'every item' : (names?.[place] ?? (kind === 'option' ? '…' : String(value)));
        return (
          <span key={JSON.stringify(term)} className="border border-rule bg-band px-1">
            {words} <span className="text-faded">{kind === 'option' ? '' : (KINDS[kind] ?? '')}</span>
            <button
              type="button"
              className="ml-1 text-faded hover:text-ink"
              aria-label={`Take out ${words}`}
              onClick={() => onRemove(place)}
            >
              ×
            </button>
          </span>
        );
      })}
      {terms.length === 0 && <span className="text-faded">{title === 'included' ? 'nothing yet' : 'nothing'}</span>}
      {children}
    </p>
  );
}
