import { useQueryClient } from '@tanstack/react-query';
import { useLocation } from 'wouter';
import { answered, api, type Json, type PromotionPage } from '../api/client';

/** Begins a promotion with a document, and opens it at the desk. */
export function useBegin() {
  const [, go] = useLocation();
  const queries = useQueryClient();
  return async (document: Json) => {
    const page = await answered<PromotionPage>(api.POST('/api/promotions', { body: { document: document as never } }));
    queries.invalidateQueries({ queryKey: ['promotions'] });
    go(`/promotions/${page.id}`);
  };
}
