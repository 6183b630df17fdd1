import { useState } from 'react';
import { answered, api, type Finding, type PromotionPage } from '../api/client';
import { useHistory } from '../ui/undo';
import { keyOfFinding } from './SecondLook';

/** What the merchant has said is meant as written: kept with the promotion, and taken back like anything else. */
export function useMeaning(page: PromotionPage) {
  const history = useHistory();
  const [meant, setMeant] = useState<ReadonlySet<string>>(() => new Set(page.meant));
  const mean = async (finding: Finding, isMeant: boolean) => {
    const set = async (to: boolean) => {
      // Kept first: what is shown as meant is so after a reload too, unless the server does not answer.
      await answered(
        api.PUT('/api/promotions/{id}/meant', {
          params: { path: { id: page.id } },
          body: { finding: keyOfFinding(finding), words: finding.sentence, meant: to },
        }),
      ).catch(() => {});
      setMeant((old) => {
        const next = new Set(old);
        if (to) next.add(keyOfFinding(finding));
        else next.delete(keyOfFinding(finding));
        return next;
      });
    };
    await set(isMeant);
    history.push({
      words: isMeant ? 'I mean it' : 'no longer meant',
      of: `draft ${page.id}`,
      undo: () => set(!isMeant),
      redo: () => set(isMeant),
    });
  };
  return { meant, mean };
}
