import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'wouter';
import { answered, api, type EditionRow, type NowLive } from '../api/client';
import { useComparison, useEditionPrices, useEditions } from '../api/queries';
import { ClauseDifferences } from '../shop/ClauseDifferences';
import { useShopContext } from '../shop/shop';
import { useCart } from '../tape/cart';
import { Choice } from '../ui/Choice';
import { useHistory } from '../ui/undo';

/** The editions: what was live when, what any two differ in, and an old one put live again. */
export function Editions() {
  const { format } = useShopContext();
  const { data, error } = useEditions();
  const rows = data?.rows ?? [];
  const newest = rows[0]?.number ?? 0;
  const [chosen, setChosen] = useState<number | null>(null);
  const [against, setAgainst] = useState<number | null>(null);
  const at = chosen ?? newest;
  const before = against ?? Math.max(0, at - 1);
  return (
    <section aria-label="Editions" className="flex h-full flex-col">
      <header className="flex items-baseline gap-4 border-b border-rule px-4 py-2">
        <h1 className="text-[17px] font-medium">Editions</h1>
        <span className="flex-1 text-faded">What was live, numbered and never changed.</span>
        <Link href="/promotions" className="word">
          all promotions
        </Link>
      </header>
      {error && !data && <p className="px-4 py-2 text-doubt">{error.message}</p>}
      <ol className="max-h-[38%] shrink-0 overflow-y-auto border-b border-ink" aria-label="Editions, the newest first">
        {rows.map((row) => (
          <li key={row.number} className="odd:bg-band">
            <button
              type="button"
              data-testid="edition-row"
              aria-pressed={row.number === at}
              className={`grid w-full grid-cols-[6rem_13rem_1fr] gap-x-3 px-4 py-0.5 text-left hover:bg-press ${row.number === at ? 'shadow-[inset_3px_0_0_var(--stamp)]' : ''}`}
              onClick={() => {
                setChosen(row.number);
                setAgainst(null);
              }}
            >
              <span className="font-medium">edition {row.number}</span>
              <span className="text-faded">{format.moment(row.publishedAt)}</span>
              <span>
                {changesOf(row)}
                {row.reason !== null && <q className="ml-2 text-faded">{row.reason}</q>}
              </span>
            </button>
          </li>
        ))}
      </ol>
      {newest > 0 && (
        <div className="min-h-0 flex-1 overflow-y-auto">
          <p className="flex items-baseline gap-2 px-4 py-2">
            <span>
              Edition {at} compared with{' '}
              <Choice
                label="Compared with which"
                value={String(before)}
                options={[
                  { value: '0', words: 'no promotions' },
                  ...rows.filter((row) => row.number !== at).map((row) => ({ value: String(row.number), words: `edition ${row.number}` })),
                ]}
                onChange={(next) => setAgainst(Number(next))}
              />
            </span>
            <span className="flex-1" />
            {at !== newest && <Restore number={at} newest={newest} onDone={() => setChosen(null)} />}
          </p>
          <OnTheTape from={before} to={at} />
          <Comparison from={before} to={at} />
        </div>
      )}
      {data && newest === 0 && <p className="px-4 py-4 text-faded">Nothing was ever put live.</p>}
    </section>
  );
}

function changesOf(row: EditionRow): string {
  const words = [
    row.joined > 0 && `${row.joined} added`,
    row.changed > 0 && `${row.changed} changed`,
    row.gone > 0 && `${row.gone} gone`,
  ].filter(Boolean);
  return words.length > 0 ? words.join(', ') : 'nothing changed';
}

/** What the cart on the tape comes to under both. */
function OnTheTape({ from, to }: { from: number; to: number }) {
  const { format } = useShopContext();
  const { cart } = useCart();
  const { data } = useEditionPrices(from, to, cart);
  if (!data) return null;
  const under = ({ edition, due, margin }: (typeof data)['from']) =>
    `${format.money(due, data.currency)} with ${edition === 0 ? 'no promotions' : `edition ${edition}`}${margin === null ? '' : `, margin ${format.money(margin, data.currency)}`}`;
  return (
    <p className="px-4 pb-2 text-faded" data-testid="edition-prices">
      The tape’s cart comes to{' '}
      {data.from.due === data.to.due && data.from.margin === data.to.margin
        ? `${format.money(data.to.due, data.currency)} with both`
        : `${under(data.from)}; to ${under(data.to)}`}
      .
    </p>
  );
}

const KINDS: Record<string, string> = { joined: 'is live', changed: 'says something else', gone: 'is no longer live' };

function Comparison({ from, to }: { from: number; to: number }) {
  const { data, error } = useComparison(from, to);
  if (error) return <p className="px-4 text-doubt">{error.message}</p>;
  if (!data) return <p className="px-4 text-faded">Comparing…</p>;
  if (data.promotions.length === 0) return <p className="px-4 text-faded">They say the same.</p>;
  return (
    <ul data-testid="differences">
      {data.promotions.map((one) => (
        <li key={one.promotion} className="border-b border-rule px-4 py-1 odd:bg-band" data-promotion={one.promotion}>
          <p>
            <Link href={`/promotions/${one.promotion}`} className="font-medium hover:underline">
              {one.name}
            </Link>{' '}
            <span className="text-stamp">{KINDS[one.kind]}</span>
          </p>
          <ClauseDifferences clauses={one.clauses} />
        </li>
      ))}
    </ul>
  );
}

function Restore({ number, newest, onDone }: { number: number; newest: number; onDone: () => void }) {
  const queries = useQueryClient();
  const history = useHistory();
  const [failure, setFailure] = useState('');
  const restore = (which: number, seen: number) =>
    answered<NowLive>(api.POST('/api/editions/{number}/restore', { params: { path: { number: which } }, body: { seen, reason: null } }));
  const press = async () => {
    try {
      let live = await restore(number, newest);
      history.push({
        words: `edition ${number} put live again`,
        of: 'list',
        undo: async () => {
          live = await restore(newest, live.edition?.number ?? 0);
          await queries.invalidateQueries();
        },
        redo: async () => {
          live = await restore(number, live.edition?.number ?? 0);
          await queries.invalidateQueries();
        },
      });
      await queries.invalidateQueries();
      onDone();
    } catch (error) {
      setFailure((error as Error).message);
    }
  };
  return (
    <>
      {failure && (
        <span role="alert" className="text-doubt">
          ⚠ {failure}
        </span>
      )}
      <button type="button" className="stamp" onClick={press}>
        Put it live again
      </button>
    </>
  );
}
