import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState } from 'react';
import { answered, api, type Json, type PromotionPage, Refused, Unreachable } from '../api/client';
import { type Path, set } from '../shop/document';

const MOST_STEPS = 500;
const keyOf = (id: string) => `rapid-ledger.draft.${id}`;

type Local = { document: Json; revision: number };

/** How a draft is doing: kept on the server, on its way there, only in this browser, or written elsewhere in the meantime. */
export type Keeping = 'kept' | 'keeping' | 'waiting' | 'conflict';

/**
 * A promotion being written. Every change is kept at once in the browser and, one request at a time, on the server; while that does not
 * answer it is tried again, across reloads.
 */
export function useDraft(page: PromotionPage) {
  const queries = useQueryClient();
  const [saved, setSaved] = useState(page);
  const [steps, setSteps] = useState<{ past: Json[]; now: Json; future: Json[] }>(() => ({
    past: [],
    now: leftOver(page) ?? page.document,
    future: [],
  }));
  const [keeping, setKeeping] = useState<Keeping>(leftOver(page) ? 'waiting' : 'kept');
  const [theirs, setTheirs] = useState<PromotionPage | null>(null);
  const [failure, setFailure] = useState<string | null>(null);
  const revision = useRef(page.revision);
  const wanted = useRef<Json | null>(leftOver(page));
  const busy = useRef<Promise<void> | null>(null);
  const id = page.id;

  const keep = useCallback(async () => {
    if (busy.current) return busy.current;
    const work = async () => {
      while (wanted.current) {
        const document = wanted.current;
        try {
          const kept = await answered<PromotionPage>(
            api.PUT('/api/promotions/{id}/draft', {
              params: { path: { id } },
              body: { revision: revision.current, document: document as never },
            }),
          );
          revision.current = kept.revision;
          setSaved(kept);
          setFailure(null);
          if (wanted.current === document) {
            wanted.current = null;
            localStorage.removeItem(keyOf(id));
            setKeeping('kept');
          }
        } catch (error) {
          if (error instanceof Refused && error.status === 409 && error.theirs) {
            setTheirs(error.theirs);
            setKeeping('conflict');
          } else {
            setKeeping('waiting');
            if (error instanceof Refused) setFailure(error.message);
            if (error instanceof Unreachable) window.setTimeout(() => keepRef.current(), 1500);
          }
          return;
        }
      }
    };
    busy.current = work().finally(() => {
      busy.current = null;
    });
    return busy.current;
  }, [id]);
  const keepRef = useRef(keep);
  keepRef.current = keep;

  const put = useCallback(
    (document: Json) => {
      wanted.current = document;
      const local: Local = { document, revision: revision.current };
      localStorage.setItem(keyOf(id), JSON.stringify(local));
      setKeeping((old) => (old === 'conflict' ? old : 'keeping'));
      keepRef.current();
    },
    [id],
  );

  // What an earlier visit could not bring to the server is brought now.
  useEffect(() => {
    if (wanted.current) keepRef.current();
  }, []);

  const write = useCallback(
    (next: (old: Json) => Json) =>
      setSteps((old) => {
        const now = next(old.now);
        if (now === old.now) return old;
        return { past: [...old.past.slice(-MOST_STEPS), old.now], now, future: [] };
      }),
    [],
  );
  const change = useCallback((path: Path, value: unknown) => write((old) => set(old, path, value) as Json), [write]);
  const undo = useCallback(
    () =>
      setSteps((old) =>
        old.past.length === 0 ? old : { past: old.past.slice(0, -1), now: old.past.at(-1) as Json, future: [old.now, ...old.future] },
      ),
    [],
  );
  const redo = useCallback(
    () =>
      setSteps((old) =>
        old.future.length === 0 ? old : { past: [...old.past, old.now], now: old.future[0] as Json, future: old.future.slice(1) },
      ),
    [],
  );

  const lastPut = useRef(steps.now);
  useEffect(() => {
    if (lastPut.current === steps.now) return;
    lastPut.current = steps.now;
    put(steps.now);
  }, [steps.now, put]);

  /** Does something to the saved promotion that needs its newest revision, once all that was typed is kept. */
  const act = useCallback(
    async (call: (revision: number, document: Json) => Promise<PromotionPage | undefined>) => {
      await keepRef.current();
      setFailure(null);
      try {
        const after = await call(revision.current, lastPut.current);
        if (after) {
          revision.current = after.revision;
          setSaved(after);
        }
        queries.invalidateQueries({ queryKey: ['promotions'] });
        return after;
      } catch (error) {
        if (error instanceof Refused && error.status === 409 && error.theirs) {
          setTheirs(error.theirs);
          setKeeping('conflict');
        } else setFailure((error as Error).message);
        return undefined;
      }
    },
    [queries],
  );

  /** Shows another document as if it had been opened: what is on the server now. */
  const adopt = useCallback((after: PromotionPage) => {
    revision.current = after.revision;
    wanted.current = null;
    localStorage.removeItem(keyOf(after.id));
    lastPut.current = after.document;
    setSaved(after);
    setTheirs(null);
    setKeeping('kept');
    setSteps((old) => ({ past: [...old.past, old.now], now: after.document, future: [] }));
  }, []);

  /** After a conflict: mine over theirs, or theirs in place of mine. */
  const settle = useCallback(
    (mine: boolean) => {
      if (!theirs) return;
      if (!mine) return adopt(theirs);
      revision.current = theirs.revision;
      setTheirs(null);
      put(lastPut.current);
    },
    [theirs, adopt, put],
  );

  return {
    saved,
    document: steps.now,
    change,
    write,
    undo,
    redo,
    canUndo: steps.past.length > 0,
    canRedo: steps.future.length > 0,
    keeping,
    theirs,
    settle,
    act,
    adopt,
    failure,
  };
}

// A draft that an earlier visit could not bring to the server.
function leftOver(page: PromotionPage): Json | null {
  try {
    const local = JSON.parse(localStorage.getItem(keyOf(page.id)) ?? 'null') as Local | null;
    return local?.document ?? null;
  } catch {
    return null;
  }
}
