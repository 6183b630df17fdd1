import type { ComponentType } from 'react';
import type { Reward } from '../../../shop/document';
import { Bundle } from './Bundle';
import { BuyGet } from './BuyGet';
import { Credit } from './Credit';
import { Discount } from './Discount';
import { Gift } from './Gift';
import { Ladder } from './Ladder';
import { Markdown } from './Markdown';
import { Points } from './Points';
import type { RewardProps } from './parts';
import { Shipping } from './Shipping';

export type Kind = 'discount' | 'buyGet' | 'ladder' | 'bundle' | 'gift' | 'markdown' | 'shipping' | 'points' | 'credit';

type Form = {
  /** What a merchant calls it. */
  words: string;
  Clause: ComponentType<RewardProps>;
  /** Sensible values; what must still be chosen is left empty, so that the desk marks it. */
  begin: () => Reward;
  /** It stands alone in its promotion. */
  alone?: boolean;
};

const nothing = () => ({ in: [] });

/** Every kind of reward with its clause: one that is missing here does not compile. */
export const KINDS: Record<Kind, Form> = {
  discount: {
    words: 'a discount',
    Clause: Discount,
    begin: () => ({ kind: 'discount', on: nothing(), take: { percent: 10 }, per: 'unit' }),
  },
  buyGet: {
    words: 'buy some, get some',
    Clause: BuyGet,
    begin: () => ({
      kind: 'buyGet',
      buy: { of: nothing(), quantity: 2 },
      get: { of: nothing(), quantity: 1, take: { percent: 100 } },
      repeat: 'every',
    }),
  },
  ladder: {
    words: 'a ladder',
    Clause: Ladder,
    begin: () => ({
      kind: 'ladder',
      measure: 'quantity',
      of: nothing(),
      apply: 'highest',
      steps: [{ from: 2, rewards: [{ kind: 'discount', take: { percent: 10 }, per: 'unit' }] }],
    }),
  },
  bundle: {
    words: 'a set',
    Clause: Bundle,
    begin: () => ({
      kind: 'bundle',
      slots: [
        { of: nothing(), quantity: 1 },
        { of: nothing(), quantity: 1 },
      ],
      take: { percent: 15 },
      repeat: 'every',
    }),
  },
  gift: { words: 'a gift', Clause: Gift, begin: () => ({ kind: 'gift', give: { skus: [] } }) },
  markdown: {
    words: 'lower prices',
    Clause: Markdown,
    alone: true,
    begin: () => ({ kind: 'markdown', levels: [{ on: nothing(), take: { percent: 20 } }] }),
  },
  shipping: { words: 'delivery for less', Clause: Shipping, begin: () => ({ kind: 'shipping', take: { percent: 100 } }) },
  points: { words: 'points', Clause: Points, begin: () => ({ kind: 'points', points: 1, each: '10.00' }) },
  credit: { words: 'credit', Clause: Credit, alone: true, begin: () => ({ kind: 'credit', amount: '10.00', keepRest: true }) },
};
