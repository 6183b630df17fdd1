import { useVirtualizer } from '@tanstack/react-virtual';
import { useDeferredValue, useEffect, useMemo, useRef, useState } from 'react';
import { Link, useLocation } from 'wouter';
import type { PromotionRow, TapePrint } from '../api/client';
import { ROWS_AT_ONCE, usePromotionRows, useRowFindings, useTakingsGlance } from '../api/queries';
import { useShopContext } from '../shop/shop';
import { clockOf, useCart } from '../tape/cart';
import { useActions } from '../ui/actions';
import { Choice } from '../ui/Choice';
import { useFindKey } from '../ui/useFindKey';
import { ROW, Row } from './ListRow';
import { Together } from './Together';

// So many rows at a time are asked what a second look finds.
const BLOCK = 25;
const MOST_LOOKED = 150;

const STATES = [
  { value: 'any', words: 'any state' },
  { value: 'live', words: 'live' },
  { value: 'running', words: 'running' },
  { value: 'starting', words: 'starting' },
  { value: 'ending', words: 'ending' },
  { value: 'draft', words: 'drafts' },
  { value: 'paused', words: 'paused' },
  { value: 'between', words: 'between times' },
  { value: 'usedUp', words: 'used up' },
  { value: 'ended', words: 'ended' },
  { value: 'archived', words: 'retired' },
];

type Props = { print: TapePrint | null };

/** What the list looked like when it was left: it is there again when one comes back. */
type Place = { typed: string; state: string; sku: string; kind: string; family: string; channel: string; sort: string; at: number };

const ANYTHING: Place = { typed: '', state: 'any', sku: '', kind: 'any', family: 'any', channel: 'any', sort: 'attention', at: 0 };

const KINDS = [
  { value: 'any', words: 'anything' },
  { value: 'discount', words: 'discounts' },
  { value: 'buyget', words: 'some for some bought' },
  { value: 'ladder', words: 'ladders' },
  { value: 'bundle', words: 'sets' },
  { value: 'gift', words: 'gifts' },
  { value: 'markdown', words: 'lower prices' },
  { value: 'shipping', words: 'delivery' },
  { value: 'points', words: 'points' },
  { value: 'credit', words: 'credit' },
];

const ORDERS = [
  { value: 'attention', words: 'what needs attention' },
  { value: 'name', words: 'name' },
  { value: 'start', words: 'start' },
  { value: 'end', words: 'end' },
  { value: 'use', words: 'use' },
  { value: 'amount', words: 'amount on the tape' },
];

const given = (value: string) => (value === 'any' ? undefined : value);

// There while one goes to another place and back; a reload begins anew.
let kept = ANYTHING;

/** The promotions, sorted by what needs attention at the clock. */
export function PromotionList({ print }: Props) {
  const { info } = useShopContext();
  const { cart } = useCart();
  const [, go] = useLocation();
  const [place, setPlace] = useState(kept);
  const { typed, state, sku, kind, family, channel, sort, at } = place;
  const change = (some: Partial<Place>) => setPlace((old) => ({ ...old, ...some }));
  useEffect(() => {
    kept = place;
  }, [place]);
  const q = useDeferredValue(typed);
  const [parts, setParts] = useState<number[]>([Math.floor(at / ROWS_AT_ONCE)]);
  const { first, error, rowAt } = usePromotionRows(
    clockOf(cart.at),
    {
      q: q || undefined,
      state: given(state),
      sku: sku || undefined,
      kind: given(kind),
      family: given(family),
      channel: given(channel),
      sort: sort === 'amount' ? undefined : sort,
      first: sort === 'amount' ? byAmount(print) : undefined,
    },
    parts,
  );
  const count = first?.matching ?? 0;
  const [chosen, setChosen] = useState<ReadonlyMap<string, PromotionRow>>(new Map());
  const scroll = useRef<HTMLDivElement>(null);
  const filter = useRef<HTMLInputElement>(null);
  const virtual = useVirtualizer({
    count,
    getScrollElement: () => scroll.current,
    estimateSize: () => ROW,
    overscan: 8,
    initialOffset: Math.max(0, at - 6) * ROW,
  });
  const items = virtual.getVirtualItems();
  // In blocks, so that scrolling does not ask anew for every row.
  const blocks = [...new Set(items.map((item) => Math.floor(item.index / BLOCK)))];
  const shown = blocks.flatMap((block) =>
    Array.from({ length: BLOCK }, (_, place) => rowAt(block * BLOCK + place)?.id).filter((id): id is string => id !== undefined),
  );
  const { data: glance } = useTakingsGlance();
  const { data: findings = [] } = useRowFindings(shown.slice(0, MOST_LOOKED));
  const found = useMemo(() => new Map(findings.map((one) => [one.id, one])), [findings]);
  const inSight = [...new Set(items.map((item) => Math.floor(item.index / ROWS_AT_ONCE)))].join();
  useEffect(() => setParts(inSight ? inSight.split(',').map(Number) : [0]), [inSight]);
  const clock = cart.at ? Date.parse(cart.at) : info.demoClock ? Date.parse(info.now) : Date.now();

  // The keys of the list work at once, without a press on it first.
  useEffect(() => scroll.current?.focus({ preventScroll: true }), []);

  const toggle = (row: PromotionRow) =>
    setChosen((old) => {
      const next = new Map(old);
      if (!next.delete(row.id)) next.set(row.id, row);
      return next;
    });
  const moveTo = (next: number) => {
    const within = Math.max(0, Math.min(count - 1, next));
    change({ at: within });
    virtual.scrollToIndex(within);
  };
  const keys = (event: React.KeyboardEvent) => {
    const row = rowAt(at);
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key === 'j' || event.key === 'ArrowDown') moveTo(at + 1);
    else if (event.key === 'k' || event.key === 'ArrowUp') moveTo(at - 1);
    else if (event.key === 'PageDown') moveTo(at + 12);
    else if (event.key === 'PageUp') moveTo(at - 12);
    else if (event.key === 'Home') moveTo(0);
    else if (event.key === 'End') moveTo(count - 1);
    else if (event.key === ' ' && row) toggle(row);
    else if (event.key === 'Enter' && row && event.target === event.currentTarget) go(`/promotions/${row.id}`);
    else return;
    event.preventDefault();
  };
  useFindKey(filter);

  useActions([
    { words: 'filter by a word', detail: 'the list', run: () => setTimeout(() => filter.current?.focus()) },
    ...STATES.map((one) => ({ words: `list: ${one.words}`, detail: 'the list', run: () => change({ state: one.value, at: 0 }) })),
    ...ORDERS.map((one) => ({ words: `list by ${one.words}`, detail: 'the list', run: () => change({ sort: one.value, at: 0 }) })),
    ...(rowAt(at) ? [{ words: 'select', detail: rowAt(at)?.name, run: () => rowAt(at) && toggle(rowAt(at) as PromotionRow) }] : []),
    ...(place === ANYTHING ? [] : [{ words: 'show all', detail: 'the list', run: () => setPlace(ANYTHING) }]),
  ]);

  return (
    <section aria-label="Promotions" className="flex h-full flex-col">
      <header className="flex flex-wrap items-baseline gap-x-4 border-b border-rule px-4 py-2">
        <h1 className="text-[17px] font-medium">Promotions</h1>
        <input
          ref={filter}
          className="w-36 flex-1 border-b border-rule bg-transparent px-1 focus:border-ink"
          placeholder="filter by a word  (f)"
          aria-label="Filter promotions"
          value={typed}
          onChange={(event) => change({ typed: event.target.value, at: 0 })}
          onKeyDown={(event) => {
            // Down leads into the list; Escape clears what was typed.
            if (event.key === 'ArrowDown' || event.key === 'Enter') scroll.current?.focus();
            else if (event.key === 'Escape' && typed !== '') change({ typed: '', at: 0 });
            else return;
            event.preventDefault();
          }}
        />
        <Link href="/promotions/new" className="stamp">
          New
        </Link>
        <p className="w-full leading-[26px] text-faded">
          in <Choice label="State" value={state} options={STATES} onChange={(next) => change({ state: next, at: 0 })} />, giving{' '}
          <Choice label="Kind" value={kind} options={KINDS} onChange={(next) => change({ kind: next, at: 0 })} />
          {info.families.length > 0 && (
            <>
              , in{' '}
              <Choice
                label="Family"
                value={family}
                options={[{ value: 'any', words: 'any family' }, ...info.families.map((one) => ({ value: one, words: one }))]}
                onChange={(next) => change({ family: next, at: 0 })}
              />
            </>
          )}
          , on{' '}
          <Choice
            label="Channel"
            value={channel}
            options={[{ value: 'any', words: 'any channel' }, ...info.channels.map((one) => ({ value: one, words: one }))]}
            onChange={(next) => change({ channel: next, at: 0 })}
          />
          , touching{' '}
          <Choice
            label="Touching a SKU of the cart"
            value={sku || ANY}
            options={[
              { value: ANY, words: 'anything' },
              ...[...new Set([...cart.lines.map((line) => line.sku), ...(sku ? [sku] : [])])].map((one) => ({
                value: one,
                words: print?.lines.find((line) => line.sku === one)?.name ?? one,
              })),
            ]}
            onChange={(value) => change({ sku: value === ANY ? '' : value, at: 0 })}
          />
          , by <Choice label="In order of" value={sort} options={ORDERS} onChange={(next) => change({ sort: next, at: 0 })} />
        </p>
      </header>
      {error && !first && <p className="px-4 py-2 text-doubt">⚠ {error.message} The list comes by itself when it does.</p>}
      {!error && !first && <p className="px-4 py-4 text-faded">Opening the list…</p>}
      {first && count === 0 && (
        <p className="px-4 py-4 text-faded">
          {first.all === 0 ? 'Nothing is written yet. Begin with what you want.' : 'No promotion matches. Clear the filter to see all.'}
        </p>
      )}
      <div
        ref={scroll}
        role="grid"
        aria-label="Promotions, j and k to move, Enter to open, space to select"
        aria-rowcount={count}
        aria-multiselectable="true"
        aria-activedescendant={rowAt(at) ? `row-${rowAt(at)?.id}` : undefined}
        tabIndex={0}
        className="@container min-h-0 flex-1 overflow-y-auto -outline-offset-2"
        onKeyDown={keys}
      >
        <div style={{ height: virtual.getTotalSize(), position: 'relative' }} role="rowgroup">
          {items.map((item) => {
            const row = rowAt(item.index);
            return row ? (
              <Row
                key={row.id}
                row={row}
                place={item.index}
                top={item.start}
                band={item.index % 2 === 0}
                current={item.index === at}
                chosen={chosen.has(row.id)}
                doubts={found.get(row.id)}
                brought={glance?.get(row.id)}
                clock={clock}
                print={print}
                onOpen={() => {
                  change({ at: item.index });
                  go(`/promotions/${row.id}`);
                }}
                onChoose={() => {
                  change({ at: item.index });
                  toggle(row);
                }}
              />
            ) : (
              // Ruled paper until the row is there.
              <div
                key={item.key}
                role="presentation"
                className={`absolute inset-x-0 border-b border-rule ${item.index % 2 === 0 ? 'bg-band' : ''}`}
                style={{ top: item.start, height: ROW }}
              />
            );
          })}
        </div>
      </div>
      {chosen.size > 0 && <Together rows={[...chosen.values()]} onDone={() => setChosen(new Map())} />}
    </section>
  );
}

// The promotions on the tape, those that take most first.
function byAmount(print: TapePrint | null): string | undefined {
  const taken = new Map<string, number>();
  for (const entry of print?.entries ?? []) taken.set(entry.promotion, (taken.get(entry.promotion) ?? 0) + Number(entry.amount));
  return (
    [...taken]
      .sort((one, other) => other[1] - one[1])
      .map(([id]) => id)
      .join() || undefined
  );
}

// Not a SKU: a choice needs a value for "anything".
const ANY = '\u2205';
