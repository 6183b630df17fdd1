import { useEffect, useRef, useState } from 'react';
import {
  answered,
  api,
  type Cart,
  type Clause,
  type Json,
  type LiveBeside,
  type Problem,
  type TapeAnswer,
  type TapePrint,
  Unreachable,
} from '../api/client';

export type Printed = {
  /** The last good print. */
  print: TapePrint | null;
  live: LiveBeside | null;
  clauses: Clause[];
  draftProblems: Problem[];
  cartProblems: Problem[];
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
  stale: false,
  down: false,
  serial: 0,
};

/**
 * Prices the cart beside a draft at every change. One request is under way at a time; when it ends, the newest state is sent, so a late
 * answer never overwrites a newer one. While the server is down it tries again by itself.
 */
export function usePrint(cart: Cart, draft: Json | null): Printed {
  const [printed, setPrinted] = useState(NOTHING);
  const wanted = useRef('');
  const sent = useRef('');
  const busy = useRef(false);
  const good = useRef<Json | null>(null);
  const [minute, setMinute] = useState(0);
  const body = JSON.stringify({ cart, draft });
  const wish = cart.at ? body : `${minute} ${body}`;

  useEffect(() => {
    wanted.current = wish;
    let retry: number | undefined;
    const run = async () => {
      if (busy.current) return;
      busy.current = true;
      while (sent.current !== wanted.current) {
        const sending = wanted.current;
        try {
          const answer = await print(sending, good.current);
          sent.current = sending;
          if (answer.print && answer.draftProblems.length === 0) good.current = partsOf(sending).draft;
          setPrinted((old) => next(old, answer));
        } catch (error) {
          if (error instanceof Unreachable) {
            setPrinted((old) => ({ ...old, down: true }));
            retry = window.setTimeout(run, 1500);
            break;
          }
          sent.current = sending;
          setPrinted((old) => ({
            ...old,
            down: false,
            stale: true,
            cartProblems: [{ at: '', code: 'failed', message: (error as Error).message }],
          }));
        }
      }
      busy.current = false;
    };
    run();
    return () => window.clearTimeout(retry);
  }, [wish]);

  // A tape without a clock of its own follows the minute.
  useEffect(() => {
    if (cart.at) return;
    const timer = window.setInterval(() => setMinute((old) => old + 1), 60_000);
    return () => window.clearInterval(timer);
  }, [cart.at]);

  return printed;
}

type Parts = { cart: Cart; draft: Json | null };

const partsOf = (wish: string) => JSON.parse(wish.slice(wish.indexOf('{'))) as Parts;

const ask = (parts: Parts) => answered<TapeAnswer>(api.POST('/api/tape', { body: parts as never }));

// While the draft makes no sense the cart can still change: it is priced with the draft as it last did.
async function print(wish: string, good: Json | null): Promise<TapeAnswer> {
  const parts = partsOf(wish);
  const answer = await ask(parts);
  if (answer.print || answer.cartProblems.length > 0) return answer;
  const last = await ask({ ...parts, draft: good?.id === parts.draft?.id ? good : null });
  return { ...last, draftProblems: answer.draftProblems };
}

function next(old: Printed, answer: TapeAnswer): Printed {
  const { print, live, clauses, draftProblems, cartProblems } = answer;
  if (!print) return { ...old, draftProblems, cartProblems, stale: true, down: false };
  const stale = draftProblems.length > 0;
  return { print, live, clauses, draftProblems, cartProblems, stale, down: false, serial: old.serial + 1 };
}
