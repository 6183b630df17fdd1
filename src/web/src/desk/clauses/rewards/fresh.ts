import type { Reward } from '../../../shop/document';

export type Kind = 'discount' | 'buyGet' | 'ladder' | 'bundle' | 'gift' | 'markdown' | 'shipping' | 'points' | 'credit';

const nothing = () => ({ in: [] });

/** A reward of each kind as it begins: sensible values; what must still be chosen is left empty, so that the desk marks it. */
export const FRESH: Record<Kind, () => Reward> = {
  discount: () => ({ kind: 'discount', on: nothing(), take: { percent: 10 }, per: 'unit' }),
  buyGet: () => ({
    kind: 'buyGet',
    buy: { of: nothing(), quantity: 2 },
    get: { of: nothing(), quantity: 1, take: { percent: 100 } },
    repeat: 'every',
  }),
  ladder: () => ({
    kind: 'ladder',
    measure: 'quantity',
    of: nothing(),
    apply: 'highest',
    steps: [{ from: 2, rewards: [{ kind: 'discount', take: { percent: 10 }, per: 'unit' }] }],
  }),
  bundle: () => ({
    kind: 'bundle',
    slots: [
      { of: nothing(), quantity: 1 },
      { of: nothing(), quantity: 1 },
    ],
    take: { percent: 15 },
    repeat: 'every',
  }),
  gift: () => ({ kind: 'gift', give: { skus: [] } }),
  markdown: () => ({ kind: 'markdown', levels: [{ on: nothing(), take: { percent: 20 } }] }),
  shipping: () => ({ kind: 'shipping', take: { percent: 100 } }),
  points: () => ({ kind: 'points', points: 1, each: '10.00' }),
  credit: () => ({ kind: 'credit', amount: '10.00', keepRest: true }),
};
