import { useQueryClient } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useDeferredValue, useEffect, useRef, useState } from 'react';
import { Link, useLocation } from 'wouter';
import { answered, api, type PromotionPage, type PromotionRow, type TapePrint } from '../api/client';
import { usePromotions } from '../api/queries';
import { useShopContext } from '../shop/shop';
import { useCart } from '../tape/cart';
import { Choice } from '../ui/Choice';
import { add } from '../ui/format';
import { StateMark } from '../shop/StateMark';
import { WindowStrip } from './WindowStrip';

const ROW = 46;

const STATES = [
  { value: 'any', words: 'any state' },
  { value: 'live', words: 'live' },
  { value: 'running', words: 'running' },
  { value: 'starting', words: 'starting' },
  { value: 'ending', words: 'ending' },
  { value: 'draft', words: 'drafts' },
  { value: 'paused', words: 'paused' },
  { value: 'ended', words: 'ended' },
  { value: 'archived', words: 'retired' },
];

type Props = { print: TapePrint | null };

/** The promotions, sorted by what needs attention at the clock. */
export function PromotionList({ print }: Props) {
  const { info } = useShopContext();
  const { cart } = useCart();
  const [, go] = useLocation();
  const [typed, setTyped] = useState('');
  const [state, setState] = useState('any');
  const [sku, setSku] = useState('');
  const q = useDeferredValue(typed);
  const { data, error } = usePromotions(cart.at ? new Date(cart.at).toISOString().replace('.000Z', 'Z') : undefined, {
    q: q || undefined,
    state: state === 'any' ? undefined : state,
    sku: sku || undefined,
  });
  const rows = data?.rows ?? [];
  const [at, setAt] = useState(0);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const scroll = useRef<HTMLDivElement>(null);
  const filter = useRef<HTMLInputElement>(null);
  const virtual = useVirtualizer({ count: rows.length, getScrollElement: () => scroll.current, estimateSize: () => ROW, overscan: 8 });
  const clock = cart.at ? Date.parse(cart.at) : info.demoClock ? Date.parse(info.now) : Date.now();

  const toggle = (id: string) =>
    setChosen((old) => {
      const next = new Set(old);
      if (!next.delete(id)) next.add(id);
      return next;
    });
  const moveTo = (place: number) => {
    const next = Math.max(0, Math.min(rows.length - 1, place));
    setAt(next);
    virtual.scrollToIndex(next);
  };
  const keys = (event: React.KeyboardEvent) => {
    if ((event.target as HTMLElement).tagName === 'INPUT' && event.key.length === 1) return;
    const row = rows[at];
    if (event.key === 'j' || event.key === 'ArrowDown') moveTo(at + 1);
    else if (event.key === 'k' || event.key === 'ArrowUp') moveTo(at - 1);
    else if (event.key === 'Home') moveTo(0);
    else if (event.key === 'End') moveTo(rows.length - 1);
    else if (event.key === ' ' && row) toggle(row.id);
    else if (event.key === 'Enter' && row && event.target === event.currentTarget) go(`/promotions/${row.id}`);
    else return;
    event.preventDefault();
  };
  useEffect(() => {
    const search = (event: KeyboardEvent) => {
      if (event.key !== 'f' || event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
      event.preventDefault();
      filter.current?.focus();
    };
    window.addEventListener('keydown', search);
    return () => window.removeEventListener('keydown', search);
  }, []);

  return (
    <section aria-label="Promotions" className="flex h-full flex-col">
      <header className="flex flex-wrap items-baseline gap-x-4 border-b border-rule px-4 py-2">
        <h1 className="text-[17px] font-semibold">Promotions</h1>
        <input
          ref={filter}
          className="w-36 flex-1 border-b border-rule bg-transparent px-1 focus:border-ink"
          placeholder="filter by a word  (f)"
          aria-label="Filter promotions"
          value={typed}
          onChange={(event) => {
            setTyped(event.target.value);
            setAt(0);
          }}
        />
        <Choice label="State" value={state} options={STATES} onChange={setState} />
        <span>
          touching{' '}
          <Choice
            label="Touching a SKU of the cart"
            value={sku || ANY}
            options={[
              { value: ANY, words: 'anything' },
              ...[...new Set(cart.lines.map((line) => line.sku))].map((one) => ({ value: one, words: one })),
            ]}
            onChange={(value) => setSku(value === ANY ? '' : value)}
          />
        </span>
        <Link href="/promotions/new" className="stamp">
          New
        </Link>
      </header>
      {error && !data && <p className="px-4 py-2 text-doubt">{error.message} The list comes back by itself.</p>}
      {data && rows.length === 0 && (
        <p className="px-4 py-4 text-faded">
          {data.all === 0 ? 'Nothing is written yet. Begin with what you want.' : 'No promotion is like that. Clear the filter to see all.'}
        </p>
      )}
      <div
        ref={scroll}
        role="grid"
        aria-label="Promotions, j and k to move, Enter to open, space to select"
        aria-rowcount={rows.length}
        aria-multiselectable="true"
        aria-activedescendant={rows[at] ? `row-${rows[at].id}` : undefined}
        tabIndex={0}
        className="min-h-0 flex-1 overflow-y-auto -outline-offset-2"
        onKeyDown={keys}
      >
        <div style={{ height: virtual.getTotalSize(), position: 'relative' }} role="rowgroup">
          {virtual.getVirtualItems().map((item) => {
            const row = rows[item.index];
            return row ? (
              <Row
                key={row.id}
                row={row}
                top={item.start}
                band={item.index % 2 === 0}
                current={item.index === at}
                chosen={chosen.has(row.id)}
                clock={clock}
                print={print}
                onOpen={() => go(`/promotions/${row.id}`)}
                onChoose={() => {
                  setAt(item.index);
                  toggle(row.id);
                }}
              />
            ) : null;
          })}
        </div>
      </div>
      {chosen.size > 0 && <Together rows={rows.filter((row) => chosen.has(row.id))} onDone={() => setChosen(new Set())} />}
    </section>
  );
}

// Not a SKU: a choice needs a value for "anything".
const ANY = '\u2205';

export const isTyping = (target: EventTarget | null) =>
  target instanceof HTMLElement && (target.tagName === 'INPUT' || target.tagName === 'TEXTAREA' || target.isContentEditable);

type RowProps = {
  row: PromotionRow;
  top: number;
  band: boolean;
  current: boolean;
  chosen: boolean;
  clock: number;
  print: TapePrint | null;
  onOpen: () => void;
  onChoose: () => void;
};

function Row({ row, top, band, current, chosen, clock, print, onOpen, onChoose }: RowProps) {
  const { format } = useShopContext();
  const taken = (print?.entries ?? [])
    .filter((one) => one.promotion === row.id)
    .reduce((sum, one) => (sum ? add(sum, one.amount) : one.amount), '');
  const off = row.phase === 'draft' || row.phase === 'paused' || row.phase === 'archived';
  return (
    // The keys of a row are those of its list.
    // biome-ignore lint/a11y/useKeyWithClickEvents: see above
    <div
      id={`row-${row.id}`}
      role="row"
      tabIndex={-1}
      aria-selected={chosen}
      data-testid="row"
      data-phase={row.phase}
      className={`absolute inset-x-0 grid cursor-pointer grid-cols-[1.2rem_minmax(0,1fr)_8.5rem_5.4rem_4.4rem] content-center items-center gap-x-3 leading-[18px] border-b border-rule px-3 hover:bg-press ${chosen ? 'bg-stamped' : band ? 'bg-band' : ''} ${current ? 'shadow-[inset_3px_0_0_var(--stamp)]' : ''}`}
      style={{ top, height: ROW }}
      onClick={onOpen}
    >
      <span role="gridcell" className="row-span-2 leading-none">
        <input
          type="checkbox"
          tabIndex={-1}
          className="accent-[var(--stamp)]"
          aria-label={`Select ${row.name}`}
          checked={chosen}
          onClick={(event) => event.stopPropagation()}
          onChange={onChoose}
        />
      </span>
      <div role="gridcell" className="flex min-w-0 items-baseline gap-2">
        <span className={`truncate font-medium ${off ? 'text-faded' : ''}`}>{row.name}</span>
        <StateMark phase={row.phase} words={row.phaseText} />
        {row.hasDraft && row.state !== 'draft' && <span className="shrink-0 text-doubt">changed, not live</span>}
      </div>
      <span role="gridcell">
        <WindowStrip opens={row.opens} closes={row.closes} at={clock} off={off} />
      </span>
      <UsedMark used={row.used} />
      <span role="gridcell" className="text-right font-mono text-tape text-red">
        {taken && print ? `−${format.plain(taken, print.currency)}` : ''}
      </span>
      <div role="gridcell" className="col-span-4 truncate text-faded" title={row.sentence}>
        {row.problems > 0 ? (
          <span className="text-doubt">⚠ {row.problems === 1 ? 'one thing is' : `${row.problems} things are`} still to be said</span>
        ) : (
          row.sentence
        )}
      </div>
    </div>
  );
}

/** How much of the tightest limit is used; nothing where there is none. */
function UsedMark({ used }: { used: PromotionRow['used'] }) {
  if (!used) return <span role="gridcell" />;
  const high = used.share >= 0.75;
  return (
    <span role="gridcell" className="flex items-center gap-1.5 font-mono text-[11px]" title={`${used.used} of ${used.of} used`}>
      <span className="h-1.5 w-10 shrink-0 border border-rule" aria-hidden="true">
        <span className={`block h-full ${high ? 'bg-doubt' : 'bg-ink'}`} style={{ width: `${Math.min(100, used.share * 100)}%` }} />
      </span>
      <span className={high ? 'text-doubt' : 'text-faded'}>{Math.round(used.share * 100)} %</span>
    </span>
  );
}

/** What can be done to several at once. */
function Together({ rows, onDone }: { rows: PromotionRow[]; onDone: () => void }) {
  const queries = useQueryClient();
  const [said, setSaid] = useState('');
  const each = async (what: string, can: (row: PromotionRow) => boolean, call: (row: PromotionRow) => Promise<unknown>) => {
    const able = rows.filter(can);
    let failed = '';
    let done = 0;
    for (const row of able) {
      setSaid(`${what} ${done + 1} of ${able.length}`);
      try {
        await call(row);
        done += 1;
      } catch (error) {
        failed = `${row.name}: ${(error as Error).message}`;
      }
    }
    await queries.invalidateQueries({ queryKey: ['promotions'] });
    if (failed) setSaid(failed);
    else if (able.length < rows.length) setSaid(`${done} done; the others cannot be.`);
    else onDone();
  };
  const to = (row: PromotionRow) => ({ params: { path: { id: row.id } }, body: { revision: row.revision, document: null } });
  const start = async (row: PromotionRow) => {
    const page = await answered<PromotionPage>(api.GET('/api/promotions/{id}', { params: { path: { id: row.id } } }));
    await answered(
      api.POST('/api/promotions/{id}/live', {
        params: { path: { id: row.id } },
        body: { revision: page.revision, document: page.document as never },
      }),
    );
  };
  return (
    <footer className="flex items-center gap-4 border-t border-ink px-4 py-2">
      <span className="font-medium">{rows.length} selected</span>
      <button type="button" className="word" onClick={() => each('starting', (row) => row.state !== 'live' || row.hasDraft, start)}>
        put live
      </button>
      <button
        type="button"
        className="word"
        onClick={() =>
          each(
            'pausing',
            (row) => row.state === 'live',
            (row) => answered(api.POST('/api/promotions/{id}/pause', to(row))),
          )
        }
      >
        pause
      </button>
      <button
        type="button"
        className="word"
        onClick={() =>
          each(
            'copying',
            () => true,
            (row) => answered(api.POST('/api/promotions/{id}/copy', { params: { path: { id: row.id } } })),
          )
        }
      >
        copy
      </button>
      <button
        type="button"
        className="word"
        onClick={() =>
          each(
            'retiring',
            (row) => row.state === 'live' || row.state === 'paused',
            (row) => answered(api.POST('/api/promotions/{id}/retire', to(row))),
          )
        }
      >
        retire
      </button>
      <span className="flex-1 text-doubt" role="status">
        {said}
      </span>
      <button type="button" className="word" onClick={onDone}>
        select none
      </button>
    </footer>
  );
}
