import { answered, api, type Json, type PromotionPage } from '../api/client';

/** Keeps what is written of a promotion, onto a revision of it. */
export const keepDraft = (id: string, revision: number, document: Json) =>
  answered<PromotionPage>(
    api.PUT('/api/promotions/{id}/draft', { params: { path: { id } }, body: { revision, document: document as never } }),
  );
