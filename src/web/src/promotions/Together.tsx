import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type PromotionPage, type PromotionRow } from '../api/client';
import { useHistory } from '../ui/undo';

/** What can be done to several at once. */
export function Together({ rows, onDone }: { rows: PromotionRow[]; onDone: () => void }) {
  const queries = useQueryClient();
  const history = useHistory();
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
    await queries.invalidateQueries({ queryKey: ['edition'] });
    if (failed) setSaid(failed);
    else if (able.length < rows.length) setSaid(`${done} done; the others cannot be.`);
    else onDone();
  };
  // The row may be older than what is stored: the newest revision is asked for.
  const fresh = (row: PromotionRow) => answered<PromotionPage>(api.GET('/api/promotions/{id}', { params: { path: { id: row.id } } }));
  const set = async (row: { id: string }, what: 'pause' | 'retire' | 'resume') => {
    const page = await fresh(row as PromotionRow);
    await answered(
      api.POST(`/api/promotions/{id}/${what}`, { params: { path: { id: row.id } }, body: { revision: page.revision, document: null } }),
    );
  };
  const setAll = async (words: string, what: 'pause' | 'retire', can: (row: PromotionRow) => boolean) => {
    const able = rows.filter(can);
    await each(words, can, (row) => set(row, what));
    const all = async (to: (row: PromotionRow) => 'pause' | 'retire' | 'resume') => {
      for (const row of able) await set(row, to(row)).catch(() => {});
      await queries.invalidateQueries();
    };
    history.push({
      words: `${what}: ${able.length === 1 ? able[0]?.name : `${able.length} promotions`}`,
      of: 'list',
      undo: () => all((row) => (row.state === 'live' ? 'resume' : 'pause')),
      redo: () => all(() => what),
    });
  };
  const start = async (row: PromotionRow) => {
    const page = await fresh(row);
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
      <button type="button" className="word" onClick={() => setAll('pausing', 'pause', (row) => row.state === 'live')}>
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
        onClick={() => setAll('retiring', 'retire', (row) => row.state === 'live' || row.state === 'paused')}
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
