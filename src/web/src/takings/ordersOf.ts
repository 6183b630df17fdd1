import type { Asked } from './asked';

/** Where the orders behind a figure stand: those paid, with the promotion, in the stretch; of a part, by what is typed for it. */
export function ordersOf(asked: Asked, promotion: string, typed?: string) {
  const query = new URLSearchParams({ state: 'taken', from: asked.from, to: asked.to });
  if (promotion !== '*' && promotion !== '-') query.set('promotion', promotion);
  if (typed) query.set('q', typed);
  return `/orders?${query}`;
}
