import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useLocation } from 'wouter';
import { answered, api, type Json, type PromotionPage, Refused } from '../api/client';
import { titleOf } from '../shop/document';
import { keepDraft } from '../shop/keepDraft';
import { type StateChange, WAY_BACK } from '../shop/states';
import { announce } from '../ui/announce';
import { useHistory } from '../ui/undo';
import { forgetHere } from './leftOver';
import type { useDraft } from './useDraft';

/** What can be done to the promotion at the desk as a whole, each with its way back: put live, paused, copied, thrown away. */
export function useLife(id: string, draft: ReturnType<typeof useDraft>) {
  const [, go] = useLocation();
  const queries = useQueryClient();
  const history = useHistory();
  const { saved, document: written, act } = draft;
  // Why what is done next is done: it goes with the edition that comes of it.
  const [reason, setReason] = useState('');
  // What throwing it away would break.
  const [breaks, setBreaks] = useState<string | null>(null);
  const path = { path: { id } };

  const given = reason.trim() || null;
  const putLive = async () => {
    const after = await act((revision, document) =>
      answered<PromotionPage>(
        api.POST('/api/promotions/{id}/live', { params: path, body: { revision, document: document as never, reason: given } }),
      ),
    );
    if (!after) return;
    setReason('');
    announce(`${titleOf(written)} is live.`);
    history.push({ words: `put live: ${titleOf(written)}`, of: `draft ${id}`, undo: () => takeBack(saved, written), redo: putLive });
  };
  // As it was before: what was live is live again, and what was being written is there as a draft; what was not live is paused.
  const takeBack = async (before: PromotionPage, draftOf: Json) => {
    const old = before.saved;
    if (before.state !== 'live' || !old) return void (await stateTo('pause'));
    await act(async (revision) => {
      const back = await answered<PromotionPage>(
        api.POST('/api/promotions/{id}/live', { params: path, body: { revision, document: old as never, reason: null } }),
      );
      return keepDraft(id, back.revision, draftOf);
    });
  };
  const stateTo = (to: StateChange, why: string | null = null) =>
    act((revision) =>
      answered<PromotionPage>(api.POST(`/api/promotions/{id}/${to}`, { params: path, body: { revision, document: null, reason: why } })),
    );
  // What was done to the saved promotion can be taken back too.
  const setState = async (to: StateChange) => {
    const before = saved.state;
    const after = await stateTo(to, given);
    if (!after) return;
    setReason('');
    announce(`${titleOf(written)} is ${DONE[to]}.`);
    const back = WAY_BACK[before];
    if (!back) return;
    history.push({
      words: `${to}: ${titleOf(written)}`,
      of: `draft ${id}`,
      undo: async () => void (await stateTo(back)),
      redo: async () => void (await stateTo(to)),
    });
  };
  const copy = () =>
    act(async () => {
      const fresh = await answered<PromotionPage>(api.POST('/api/promotions/{id}/copy', { params: path }));
      go(`/promotions/${fresh.id}`);
      return undefined;
    });
  const drop = (confirmed: boolean) =>
    act(async (revision) => {
      try {
        await answered(api.DELETE('/api/promotions/{id}/draft', { params: { ...path, query: { revision, confirmed } } }));
      } catch (error) {
        // Others name it: whoever throws it away is told first.
        if (!(error instanceof Refused) || error.problems[0]?.code !== 'inUse') throw error;
        setBreaks(error.message);
        return undefined;
      }
      forgetHere(id);
      if (saved.version === null) {
        const gone = written;
        history.push({
          words: `thrown away: ${titleOf(gone)}`,
          of: 'list',
          undo: async () => {
            const again = await answered<PromotionPage>(api.POST('/api/promotions', { body: { document: gone as never } }));
            queries.invalidateQueries({ queryKey: ['promotions'] });
            go(`/promotions/${again.id}`);
          },
          redo: () => go('/promotions'),
        });
        go('/promotions');
        return undefined;
      }
      const after = await answered<PromotionPage>(api.GET('/api/promotions/{id}', { params: path }));
      draft.adopt(after);
      return after;
    });
  return { reason, setReason, breaks, setBreaks, putLive, setState, copy, drop };
}

const DONE: Record<StateChange, string> = { pause: 'paused', resume: 'live again', retire: 'retired' };

export type Life = ReturnType<typeof useLife>;
