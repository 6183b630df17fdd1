import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type PromotionPage, type PromotionRow } from '../api/client';
import { Dates, type NewDates, putBack, redate } from '../shop/Dates';
import { type StateChange, WAY_BACK } from '../shop/states';
import { Selected } from '../ui/Selected';
import { useHistory } from '../ui/undo';

const titleOf = (names: string[]) => (names.length === 1 ? names[0] : `${names.length} promotions`);

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
  const set = async (row: { id: string }, what: StateChange) => {
    const page = await fresh(row as PromotionRow);
    await answered(
      api.POST(`/api/promotions/{id}/${what}`, {
        params: { path: { id: row.id } },
        body: { revision: page.revision, document: null, reason: null },
      }),
    );
  };
  const setAll = async (words: string, what: 'pause' | 'retire', can: (row: PromotionRow) => boolean) => {
    const able = rows.filter(can);
    await each(words, can, (row) => set(row, what));
    const all = async (to: (row: PromotionRow) => StateChange | undefined) => {
      for (const row of able) {
        const way = to(row);
        if (way) await set(row, way).catch(() => {});
      }
      await queries.invalidateQueries();
    };
    history.push({
      words: `${what}: ${titleOf(able.map((row) => row.name))}`,
      of: 'list',
      undo: () => all((row) => WAY_BACK[row.state]),
      redo: () => all(() => what),
    });
  };
  const start = async (row: PromotionRow) => {
    const page = await fresh(row);
    return answered<PromotionPage>(
      api.POST('/api/promotions/{id}/live', {
        params: { path: { id: row.id } },
        body: { revision: page.revision, document: page.document as never, reason: null },
      }),
    );
  };
  // Taken back, one that was live says again what it said, and what was being written is a draft again; the others rest.
  const startAll = async () => {
    const before = new Map<string, PromotionPage>();
    await each(
      'starting',
      (row) => row.state !== 'live' || row.hasDraft,
      async (row) => {
        const page = await fresh(row);
        await start(row);
        before.set(row.id, page);
      },
    );
    if (before.size === 0) return;
    const again = [...before.values()];
    history.push({
      words: `put live: ${titleOf(again.map((page) => rows.find((row) => row.id === page.id)?.name ?? ''))}`,
      of: 'list',
      undo: async () => {
        for (const page of again) {
          if (page.state !== 'live') await set(page, 'pause').catch(() => {});
          else {
            const now = await answered<PromotionPage>(api.GET('/api/promotions/{id}', { params: { path: { id: page.id } } }));
            const live = await answered<PromotionPage>(
              api.POST('/api/promotions/{id}/live', {
                params: { path: { id: page.id } },
                body: { revision: now.revision, document: page.saved as never, reason: null },
              }),
            );
            await answered(
              api.PUT('/api/promotions/{id}/draft', {
                params: { path: { id: page.id } },
                body: { revision: live.revision, document: page.document as never, reason: null },
              }),
            );
          }
        }
        await queries.invalidateQueries();
      },
      redo: async () => {
        for (const page of again) await start({ id: page.id } as PromotionRow).catch(() => {});
        await queries.invalidateQueries();
      },
    });
  };
  const copyAll = async () => {
    let made: string[] = [];
    const copy = async (id: string) => {
      const fresh = await answered<PromotionPage>(api.POST('/api/promotions/{id}/copy', { params: { path: { id } } }));
      made.push(fresh.id);
    };
    await each(
      'copying',
      () => true,
      (row) => copy(row.id),
    );
    history.push({
      words: `copy: ${titleOf(rows.map((row) => row.name))}`,
      of: 'list',
      undo: async () => {
        for (const id of made) {
          const page = await fresh({ id } as PromotionRow);
          await answered(api.DELETE('/api/promotions/{id}/draft', { params: { path: { id }, query: { revision: page.revision } } })).catch(
            () => {},
          );
        }
        made = [];
        await queries.invalidateQueries();
      },
      redo: async () => {
        for (const row of rows) await copy(row.id).catch(() => {});
        await queries.invalidateQueries();
      },
    });
  };
  const dateAll = async (dates: NewDates, words: string) => {
    const before = new Map<string, PromotionPage>();
    await each(
      'dating',
      () => true,
      async (row) => {
        const page = await fresh(row);
        await redate(page, dates);
        before.set(row.id, page);
      },
    );
    const all = async (put: (page: PromotionPage, revision: number) => Promise<unknown>) => {
      for (const page of before.values()) {
        const { revision } = await fresh({ id: page.id } as PromotionRow);
        await put(page, revision).catch(() => {});
      }
      await queries.invalidateQueries();
    };
    if (before.size === 0) return;
    history.push({
      words: `${words}: ${titleOf([...before.keys()].map((id) => rows.find((row) => row.id === id)?.name ?? ''))}`,
      of: 'list',
      undo: () => all(putBack),
      redo: () => all((page, revision) => redate({ id: page.id, revision }, dates)),
    });
  };
  return (
    <Selected count={rows.length} said={said} onNone={onDone}>
      <button type="button" className="word" onClick={startAll}>
        put live
      </button>
      <button type="button" className="word" onClick={() => setAll('pausing', 'pause', (row) => row.state === 'live')}>
        pause
      </button>
      <Dates words="dates…" onSet={dateAll} />
      <button type="button" className="word" onClick={copyAll}>
        copy
      </button>
      <button
        type="button"
        className="word"
        onClick={() => setAll('retiring', 'retire', (row) => row.state === 'live' || row.state === 'paused')}
      >
        retire
      </button>
    </Selected>
  );
}
