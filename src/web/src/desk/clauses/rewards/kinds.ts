import type { ComponentType } from 'react';
import { Bundle } from './Bundle';
import { BuyGet } from './BuyGet';
import { Credit } from './Credit';
import { Discount } from './Discount';
import type { Kind } from './fresh';
import { Gift } from './Gift';
import { Ladder } from './Ladder';
import { Markdown } from './Markdown';
import { Points } from './Points';
import type { RewardProps } from './parts';
import { Shipping } from './Shipping';

type Form = {
  /** What a merchant calls it. */
  words: string;
  Clause: ComponentType<RewardProps>;
  /** What tells it from a kind that could be taken for it. */
  note?: string;
  /** It stands alone in its promotion. */
  alone?: boolean;
};

/** Every kind of reward with its clause: one that is missing here does not compile. */
export const KINDS: Record<Kind, Form> = {
  discount: { words: 'a discount', Clause: Discount },
  buyGet: { words: 'buy some, get some', note: 'the shopper puts all of them into the cart', Clause: BuyGet },
  ladder: { words: 'a ladder', note: 'the more, the better', Clause: Ladder },
  bundle: { words: 'a set', Clause: Bundle },
  gift: { words: 'a gift', note: 'added by itself, or picked', Clause: Gift },
  markdown: { words: 'lower prices', Clause: Markdown, alone: true },
  shipping: { words: 'delivery for less', Clause: Shipping },
  points: { words: 'points', Clause: Points },
  credit: { words: 'credit', Clause: Credit, alone: true },
};
