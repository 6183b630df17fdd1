import { useEffect, useMemo, useState } from 'react';
import { answered, api, type Cart, type Finding, type Json } from '../api/client';
import { Newest } from '../api/newest';
import { useNowLive } from '../api/queries';
import { useSettled } from '../ui/useSettled';

const NOTHING: Finding[] = [];

/**
 * What a second look at a document finds, beside what is live: one request under way, the newest document wins, nobody waits for it.
 * @param cart for figures on it; null while something in it is wrong
 */
export function useSecondLook(document: Json, cart: Cart | null, isSound: boolean): Finding[] {
  const [findings, setFindings] = useState(NOTHING);
  const { data: live } = useNowLive();
  const looker = useMemo(
    () =>
      new Newest<{ draft: Json; cart: Cart | null }, Finding[]>((wish) => answered(api.POST('/api/review', { body: wish as never })), {
        answered: setFindings,
        waiting: () => {},
        // What cannot be read is told by the tape.
        refused: () => {},
      }),
    [],
  );
  const wish = useSettled(JSON.stringify({ draft: document, cart }));
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is live asks for another look at the same
  useEffect(() => {
    if (isSound) looker.want(JSON.parse(wish));
  }, [looker, wish, isSound, live?.edition?.number]);
  useEffect(() => () => looker.stop(), [looker]);
  return isSound ? findings : NOTHING;
}
