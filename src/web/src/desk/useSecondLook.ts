import { useEffect, useMemo, useState } from 'react';
import { answered, api, type Finding, type Json } from '../api/client';
import { Newest } from '../api/newest';
import { useNowLive } from '../api/queries';
import { useSettled } from '../ui/useSettled';

const NOTHING: Finding[] = [];

/** What a second look at a document finds, beside what is live: one request under way, the newest document wins, nobody waits for it. */
export function useSecondLook(document: Json, isSound: boolean): Finding[] {
  const [findings, setFindings] = useState(NOTHING);
  const { data: live } = useNowLive();
  const looker = useMemo(
    () =>
      new Newest<Json, Finding[]>((draft) => answered(api.POST('/api/review', { body: { draft: draft as never } })), {
        answered: setFindings,
        waiting: () => {},
        // What cannot be read is told by the tape.
        refused: () => {},
      }),
    [],
  );
  const wish = useSettled(JSON.stringify(document));
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is live asks for another look at the same
  useEffect(() => {
    if (isSound) looker.want(JSON.parse(wish) as Json);
  }, [looker, wish, isSound, live?.edition?.number]);
  useEffect(() => () => looker.stop(), [looker]);
  return isSound ? findings : NOTHING;
}
