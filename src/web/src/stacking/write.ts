import { useQueryClient } from '@tanstack/react-query';
import { answered, api, type ChangedDraft, type Json, type PromotionPage } from '../api/client';
import { keepDraft } from '../shop/keepDraft';
import { useHistory } from '../ui/undo';

/** Writes drafts as one step, which can be taken back; over what somebody wrote in the meantime it is not written. */
export function useWrite() {
  const queries = useQueryClient();
  const history = useHistory();
  // Not waited for: what was written can be taken back at once.
  const again = () => {
    void queries.invalidateQueries({ queryKey: ['meetings'] });
    void queries.invalidateQueries({ queryKey: ['promotions'] });
  };
  return async (words: string, drafts: ChangedDraft[]) => {
    const revisions = new Map(drafts.map(({ id, revision }) => [id, revision]));
    const keep = async (id: string, document: unknown) =>
      revisions.set(id, (await keepDraft(id, revisions.get(id) ?? 0, document as Json)).revision);
    const put = async () => {
      for (const draft of drafts) await keep(draft.id, draft.document);
      again();
    };
    await put();
    history.push({
      words,
      of: 'list',
      undo: async () => {
        for (const { id, hadDraft, before } of drafts) {
          if (hadDraft) {
            await keep(id, before);
            continue;
          }
          await answered(
            api.DELETE('/api/promotions/{id}/draft', { params: { path: { id }, query: { revision: revisions.get(id) ?? 0 } } }),
          );
          revisions.set(id, (await answered<PromotionPage>(api.GET('/api/promotions/{id}', { params: { path: { id } } }))).revision);
        }
        again();
      },
      redo: put,
    });
  };
}
