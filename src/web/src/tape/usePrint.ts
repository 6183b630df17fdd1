import { useEffect, useMemo, useRef, useState } from 'react';
import {
  answered,
  api,
  type Cart,
  type Clause,
  type Json,
  type LiveBeside,
  type NextOpening,
  type Problem,
  type TapeAnswer,
  type TapePrint,
} from '../api/client';
import { Newest } from '../api/newest';

export type Printed = {
  /** The last good print. */
  print: TapePrint | null;
  live: LiveBeside | null;
  clauses: Clause[];
  draftProblems: Problem[];
  cartProblems: Problem[];
  /** The draft that the problems are of; null: none was asked for yet. */
  of: Json | null;
  /** When the draft is open next, if it repeats. */
  comings: NextOpening[];
  /** The print is older than what stands on the page: something there is wrong. */
  stale: boolean;
  /** The server does not answer. */
  down: boolean;
  /** Goes up with every print. */
  serial: number;
};

const NOTHING: Printed = {
  print: null,
  live: null,
  clauses: [],
  draftProblems: [],
  cartProblems: [],
  of: null,
  comings: [],
  stale: false,
  down: false,
  serial: 0,
};

type Wish = { cart: Cart; draft: Json | null };

/**
 * Prices the cart beside a draft at every change of either, or of what is live.
 * @param turn changes when what is live does
 */
export function usePrint(cart: Cart, draft: Json | null, turn: unknown): Printed {
  const [printed, setPrinted] = useState(NOTHING);
  const [minute, setMinute] = useState(0);
  const good = useRef<Json | null>(null);
  const printer = useMemo(
    () =>
      new Newest<Wish, TapeAnswer>((wish) => print(wish, good.current), {
        answered: (answer, wish) => {
          if (answer.print && answer.draftProblems.length === 0) good.current = wish.draft;
          setPrinted((old) => next(old, answer, wish.draft));
        },
        waiting: () => setPrinted((old) => ({ ...old, down: true })),
        refused: (error) =>
          setPrinted((old) => ({ ...old, down: false, stale: true, cartProblems: [{ at: '', code: 'failed', message: error.message }] })),
      }),
    [],
  );

  // Compared as text: a cart or draft that says the same is not priced again.
  const wish = JSON.stringify({ cart, draft });
  // What is live is first known while the first print is under way, which is of that: only what comes after asks for another.
  const [firstTurn, setFirstTurn] = useState(turn);
  if (firstTurn === undefined && turn !== undefined) setFirstTurn(printed.serial === 0 ? turn : null);
  const turned = turn === undefined || turn === firstTurn ? 0 : turn;
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is live, and the minute, ask for another print of the same
  useEffect(() => {
    printer.want(JSON.parse(wish) as Wish);
  }, [printer, wish, turned, cart.at ? 0 : minute]);
  useEffect(() => () => printer.stop(), [printer]);

  // A choice that is not proved is looked for with more effort while nothing else is typed, and printed if that found or proved better.
  const unproved = printed.print?.proved === false && !printed.stale && !printed.down;
  // biome-ignore lint/correctness/useExhaustiveDependencies: every print that is not proved asks for a better one, once
  useEffect(() => {
    if (!unproved) return;
    const leaving = new AbortController();
    const timer = window.setTimeout(async () => {
      const better = await ask(JSON.parse(wish) as Wish, MORE_EFFORT, leaving.signal).catch(() => null);
      if (!better?.print || leaving.signal.aborted) return;
      const isBetter = better.print.proved || better.print.totals.saving !== printed.print?.totals.saving;
      if (isBetter) setPrinted((old) => next(old, better, old.of));
    }, PAUSE);
    return () => {
      window.clearTimeout(timer);
      leaving.abort();
    };
  }, [unproved, wish, turn]);

  // A tape without a clock of its own follows the minute.
  useEffect(() => {
    if (cart.at) return;
    const timer = window.setInterval(() => setMinute((old) => old + 1), 60_000);
    return () => window.clearInterval(timer);
  }, [cart.at]);

  return printed;
}

const PAUSE = 700;
const MORE_EFFORT = 20;

const ask = (wish: Wish, effort?: number, signal?: AbortSignal) =>
  answered<TapeAnswer>(api.POST('/api/tape', { body: wish as never, params: { query: { effort } }, signal }));

// While the draft makes no sense the cart can still change: it is priced with the draft as it last did.
async function print(wish: Wish, good: Json | null): Promise<TapeAnswer> {
  const answer = await ask(wish);
  if (answer.print || answer.cartProblems.length > 0) return answer;
  const last = await ask({ ...wish, draft: good?.id === wish.draft?.id ? good : null });
  return { ...last, draftProblems: answer.draftProblems };
}

function next(old: Printed, answer: TapeAnswer, of: Json | null): Printed {
  const { print, live, clauses, draftProblems, cartProblems, comings = [] } = answer;
  if (!print) return { ...old, draftProblems, cartProblems, of, comings, stale: true, down: false };
  const stale = draftProblems.length > 0;
  return { print, live, clauses, draftProblems, cartProblems, of, comings, stale, down: false, serial: old.serial + 1 };
}
