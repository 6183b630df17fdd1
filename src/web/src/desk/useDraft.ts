import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { type Json, type PromotionPage, Refused, Unreachable } from '../api/client';
import { Newest } from '../api/newest';
import { type Path, pointerOf, set } from '../shop/document';
import { keepDraft } from '../shop/keepDraft';
import { isSame } from '../ui/same';
import { useForget, useHistory } from '../ui/undo';
import { followed } from './followed';
import { forgetHere, keepHere, leftOver } from './leftOver';

/** How a draft is doing: kept on the server, on its way there, only in this browser, or written elsewhere in the meantime. */
export type Keeping = 'kept' | 'keeping' | 'waiting' | 'conflict';

/**
 * A promotion being written. Every change is kept at once in the browser and, one request at a time, on the server; while that does not
 * answer it is tried again, across reloads.
 * @param onWritten told of what was written before it is drawn: the tape is asked for it meanwhile
 */
export function useDraft(page: PromotionPage, onWritten?: (document: Json) => void) {
  const queries = useQueryClient();
  const history = useHistory();
  const id = page.id;
  const [leftBehind] = useState(() => leftOver(page));
  // What was left goes to the server only onto the revision it was written on; else both are shown.
  const [isOvertaken] = useState(leftBehind !== null && leftBehind.revision !== page.revision);
  const [saved, setSaved] = useState(page);
  const [document, setDocument] = useState<Json>(leftBehind?.document ?? page.document);
  const [keeping, setKeeping] = useState<Keeping>(isOvertaken ? 'conflict' : leftBehind ? 'waiting' : 'kept');
  const [theirs, setTheirs] = useState<PromotionPage | null>(isOvertaken ? page : null);
  const [failure, setFailure] = useState<string | null>(null);
  const revision = useRef(leftBehind?.revision ?? page.revision);
  const newest = useRef(document);
  // The texts that somebody wrote themselves: they no longer follow the figures.
  const own = useRef(new Set<string>());
  useForget(`draft ${id}`);

  /** Somebody else wrote: their page is shown beside, unless it says the same. */
  const collide = useCallback((other: PromotionPage, mine: Json) => {
    if (isSame(other.document, mine)) {
      revision.current = other.revision;
      setSaved(other);
      setKeeping('kept');
      return;
    }
    setTheirs(other);
    setKeeping('conflict');
  }, []);

  const keeper = useMemo(
    () =>
      new Newest<Json, PromotionPage>((wish) => keepDraft(id, revision.current, wish), {
        answered: (kept, _, isNewest) => {
          revision.current = kept.revision;
          setSaved(kept);
          setFailure(null);
          if (!isNewest) return keepHere(id, { document: newest.current, revision: kept.revision });
          forgetHere(id);
          setKeeping('kept');
        },
        waiting: (error) => {
          setKeeping('waiting');
          if (!(error instanceof Unreachable)) setFailure(error.message);
        },
        refused: (error, mine) => {
          if (error instanceof Refused && error.status === 409 && error.theirs) return collide(error.theirs, mine);
          setKeeping('waiting');
          setFailure(error.message);
        },
      }),
    [id, collide],
  );

  const put = useCallback(
    (next: Json) => {
      keepHere(id, { document: next, revision: revision.current });
      // Whatever comes of it: it is kept here by now.
      onWritten?.(next);
      setKeeping((old) => (old === 'conflict' ? old : 'keeping'));
      keeper.wantSoon(next, AFTER_THE_TAPE);
    },
    [id, keeper, onWritten],
  );

  const show = useCallback(
    (next: Json) => {
      newest.current = next;
      put(next);
      setDocument(next);
    },
    [put],
  );

  useEffect(() => () => keeper.hurry(), [keeper]);

  // What an earlier visit could not bring to the server is brought now.
  useEffect(() => {
    if (leftBehind && !isOvertaken) keeper.want(leftBehind.document);
  }, [keeper, leftBehind, isOvertaken]);

  const write = useCallback(
    (next: (old: Json) => Json, words = 'a change of the rule', key?: string) => {
      const before = newest.current;
      const after = next(before);
      if (after === before) return;
      show(after);
      history.push({ words, of: `draft ${id}`, key, undo: () => show(before), redo: () => show(after) });
    },
    [history, id, show],
  );
  const change = useCallback(
    (path: Path, value: unknown) => {
      if (path.length === 1) own.current.add(String(path[0]));
      write((old) => followed(old, set(old, path, value) as Json, path, own.current), `a change of ${clauseOf(path)}`, pointerOf(path));
    },
    [write],
  );

  /** Does something to the saved promotion that needs its newest revision, once all that was typed is kept. */
  const act = useCallback(
    async (call: (revision: number, document: Json) => Promise<PromotionPage | undefined>) => {
      await keeper.go();
      setFailure(null);
      try {
        const after = await call(revision.current, newest.current);
        if (after) {
          revision.current = after.revision;
          setSaved(after);
        }
        return after;
      } catch (error) {
        if (error instanceof Refused && error.status === 409 && error.theirs) collide(error.theirs, newest.current);
        else setFailure((error as Error).message);
        return undefined;
      } finally {
        queries.invalidateQueries({ queryKey: ['promotions'] });
        queries.invalidateQueries({ queryKey: ['edition'] });
      }
    },
    [queries, keeper, collide],
  );

  /** Shows another document as if it had been opened: what is on the server now. What it takes the place of can be had back, unless no words are given for it. */
  const adopt = useCallback(
    (after: PromotionPage, words: string | null = 'what was given up') => {
      const before = newest.current;
      revision.current = after.revision;
      keeper.stop();
      forgetHere(after.id);
      newest.current = after.document;
      setDocument(after.document);
      setSaved(after);
      setTheirs(null);
      setKeeping('kept');
      if (words !== null) history.push({ words, of: `draft ${id}`, undo: () => show(before), redo: () => show(after.document) });
    },
    [history, id, keeper, show],
  );

  /** After a conflict: mine over theirs, or theirs in place of mine. */
  const settle = useCallback(
    (mine: boolean) => {
      if (!theirs) return;
      if (!mine) return adopt(theirs);
      revision.current = theirs.revision;
      setTheirs(null);
      setKeeping('keeping');
      put(newest.current);
    },
    [theirs, adopt, put],
  );

  /** The newest revision, for what is done to it from elsewhere. */
  const seen = useCallback((after: PromotionPage) => {
    revision.current = after.revision;
    setSaved(after);
  }, []);

  return { saved, document, change, write, keeping, theirs, settle, act, adopt, seen, failure };
}

// Milliseconds: the browser has it at once, so the server is asked for the tape first.
const AFTER_THE_TAPE = 150;

const CLAUSES: Record<string, string> = {
  trigger: 'Starts',
  when: 'When',
  rewards: 'Gives',
  window: 'Runs',
  limits: 'Until',
  stacking: 'Alongside',
  rank: 'Alongside',
};

const clauseOf = (path: Path) => CLAUSES[String(path[0])] ?? `the ${String(path[0])}`;
