import { useCallback, useEffect, useMemo, useState } from 'react';
import { answered, api, type Cart, type Finding, type Json } from '../api/client';
import { Newest } from '../api/newest';
import { useNowLive } from '../api/queries';
import { isSameRule } from '../shop/document';
import { useSettled } from '../ui/useSettled';

/** Whether what is shown was looked at as it stands: silence means that it was. */
export type Look = { findings: Finding[]; state: 'looking' | 'looked' | 'away' | 'failed' };

const NOTHING: Look = { findings: [], state: 'looking' };

type Wish = { draft: Json; cart: Cart | null };

/**
 * What a second look at a document finds, beside what is live: one request under way, the newest document wins, nobody waits for it.
 * @param cart for figures on it; null while something in it is wrong
 * @param sound the draft that makes sense as far as is known: no other is asked about; null while it makes none
 * @returns the look, and what gives up one that is under way
 */
export function useSecondLook(document: Json, cart: Cart | null, sound: Json | null): [Look, () => void] {
  const [look, setLook] = useState<Look & { of?: string }>(NOTHING);
  const { data: live } = useNowLive();
  const looker = useMemo(
    () =>
      new Newest<Wish, Finding[]>((wish, signal) => answered(api.POST('/api/review', { signal, body: wish as never })), {
        answered: (findings, wish) => setLook({ findings, state: 'looked', of: JSON.stringify(wish) }),
        waiting: () => setLook((old) => ({ ...old, state: 'away' })),
        // What cannot be read is told by the tape.
        refused: () => setLook((old) => ({ ...old, state: 'failed' })),
      }),
    [],
  );
  const text = JSON.stringify({ draft: document, cart });
  const wish = useSettled(text);
  const isSettled = wish === text;
  const mayAsk = isSameRule((JSON.parse(wish) as Wish).draft, sound);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is live asks for another look at the same
  useEffect(() => {
    // While something else is being typed the server is left to the tape.
    if (!isSettled) looker.stop();
    else if (mayAsk) looker.want(JSON.parse(wish));
  }, [looker, wish, isSettled, mayAsk, live?.edition?.number]);
  useEffect(() => () => looker.stop(), [looker]);
  const giveUp = useCallback(() => looker.stop(), [looker]);
  if (sound === null) return [NOTHING, giveUp];
  return [look.state === 'looked' && look.of !== wish ? { ...look, state: 'looking' } : look, giveUp];
}
