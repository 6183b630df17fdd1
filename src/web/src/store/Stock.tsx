import { useQueryClient } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { answered, api, type StockRow } from '../api/client';
import { useStock } from '../api/queries';
import { useShopContext } from '../shop/shop';
import { Find } from '../ui/Find';
import { toNumber } from '../ui/numbers';
import { Typed } from '../ui/Typed';
import { useHistory } from '../ui/undo';

/** What is left of each item: gifts are given as far as there are any. What was counted on the shelf is typed over it. */
export function Stock() {
  const [typed, setTyped] = useState('');
  const q = useDeferredValue(typed.trim());
  const { data: rows = [], error } = useStock(q, q.length > 0);
  return (
    <section aria-label="Stock">
      <h2 className="head-word px-4 pt-4">stock</h2>
      <p className="px-4 leading-[26px]">
        <Find label="Find an item of which to set the stock" placeholder="type an item or its number" value={typed} onType={setTyped} />
      </p>
      {error && <p className="px-4 text-doubt">⚠ {error.message}</p>}
      {q === '' && <p className="px-4 text-faded">Items can sell below zero stock, gifts cannot.</p>}
      {q !== '' && rows.length === 0 && !error && <p className="px-4 text-faded">No item of that name.</p>}
      {q !== '' && (
        <ul>
          {rows.map((row) => (
            <Row key={row.sku} row={row} />
          ))}
        </ul>
      )}
    </section>
  );
}

function Row({ row }: { row: StockRow }) {
  const queries = useQueryClient();
  const history = useHistory();
  const { format } = useShopContext();
  const [written, setWritten] = useState<string | null>(null);
  const [failure, setFailure] = useState('');
  const free = row.free == null ? '' : String(row.free);
  const path = { sku: row.sku };
  const ask = async (call: Parameters<typeof answered>[0]) => {
    await answered(call);
    await queries.invalidateQueries();
  };
  const count = (to: number) => ask(api.PUT('/api/stock/{sku}', { params: { path }, body: { free: to, by: null } }));
  const move = (by: number) => ask(api.PUT('/api/stock/{sku}', { params: { path }, body: { free: null, by } }));
  const uncount = () => ask(api.DELETE('/api/stock/{sku}', { params: { path } }));
  const keep = async () => {
    const before = row.free;
    if (written === null || written.trim() === free) return setWritten(null);
    const next = toNumber(written);
    if (typeof next !== 'number' || !Number.isInteger(next))
      return setFailure(written.trim() ? `“${written}” is no number of units.` : 'Say how many are left.');
    try {
      await count(next);
      // What is sold until it is taken back stays sold.
      history.push({
        words: `${row.name}: ${next} left`,
        of: 'list',
        undo: () => (before == null ? uncount() : move(before - next)),
        redo: () => (before == null ? count(next) : move(next - before)),
      });
      setFailure('');
      setWritten(null);
    } catch (error) {
      setFailure((error as Error).message);
    }
  };
  return (
    <li className="px-4 leading-6 odd:bg-band" data-testid="stock-row">
      <div className="flex items-baseline gap-3">
        <span className="min-w-0 flex-1 truncate">{row.name}</span>
        <span className="truncate font-mono text-faded">{row.sku}</span>
        <span className="w-28 text-right text-faded">{row.sold > 0 ? `${format.number(row.sold)} sold since` : ''}</span>
        <span className="w-32 text-right">
          <Typed
            label={`Left of ${row.name}`}
            className={row.free == null ? 'part w-24 text-right' : 'part w-14 text-right'}
            inputMode="numeric"
            placeholder="without end"
            wanting={failure !== ''}
            value={written ?? free}
            onType={setWritten}
            onBlur={keep}
            onKeyDown={(event) => {
              if (event.key === 'Escape') setWritten(null);
            }}
          />
          {row.free != null && ' left'}
        </span>
      </div>
      {failure && (
        <p role="alert" className="text-doubt">
          ⚠ {failure}
        </p>
      )}
    </li>
  );
}
