import type { Promotion } from '../shop/document';
import { FRESH } from './clauses/rewards/fresh';

/** What a merchant wants; the kind of discount comes second. */
export type Intent = {
  key: string;
  words: string;
  /** What people usually get wrong with it. */
  beware: string;
  /** Sensible values; what must still be chosen is left empty, so that the desk marks it. */
  begin: () => Omit<Promotion, 'id'>;
};

const everything = { in: [{ all: true }] };

export const INTENTS: Intent[] = [
  {
    key: 'clear',
    words: 'Clear slow stock',
    beware: 'Choose the variants that do not sell, not the whole product, and leave out what is reduced already.',
    begin: () => ({
      name: 'Clear slow stock',
      label: '25 % off while it lasts',
      trigger: { automatic: true },
      when: { all: [] },
      rewards: [{ kind: 'markdown', levels: [{ on: { in: [], fullPriceOnly: true }, take: { percent: 25 } }] }],
    }),
  },
  {
    key: 'event',
    words: 'Lower prices for some days',
    beware: 'Everybody sees the lower price at the item itself. Say when it ends, or it stays.',
    begin: () => ({
      name: 'Lower prices',
      label: 'Lower prices',
      trigger: { automatic: true },
      when: { all: [] },
      rewards: [
        {
          kind: 'markdown',
          levels: [
            { on: { in: [] }, take: { percent: 10 } },
            { on: { in: [] }, take: { percent: 20 } },
          ],
        },
      ],
    }),
  },
  {
    key: 'lift',
    words: 'Lift the basket',
    beware: 'Set the amount a little above what people spend now. At exactly the amount, a shopper must get it.',
    begin: () => ({
      name: 'Lift the basket',
      label: '10.00 off from 100.00',
      trigger: { automatic: true },
      when: { all: [{ spend: { of: everything, from: '100.00' } }] },
      rewards: [{ kind: 'discount', on: everything, take: { amount: '10.00' }, per: 'cart' }],
    }),
  },
  {
    key: 'regulars',
    words: 'Thank regulars',
    beware: 'A guest has no past orders, so regulars must sign in to get it. Say so where they will read it.',
    begin: () => ({
      name: 'Thank regulars',
      label: 'For our regulars',
      trigger: { automatic: true },
      when: { all: [{ shopper: { orders: { op: '>=', n: 5 } } }] },
      rewards: [{ kind: 'discount', on: everything, take: { percent: 5 }, per: 'cart' }],
    }),
  },
  {
    key: 'first',
    words: 'Win first orders',
    beware: 'Without a cap, a first order of a thousand costs a hundred. One use for each shopper.',
    begin: () => ({
      name: 'Win first orders',
      label: '10 % off your first order',
      trigger: { codes: ['HELLO10'] },
      when: { all: [{ shopper: { orders: { op: '=', n: 0 } } }] },
      rewards: [{ kind: 'discount', on: everything, take: { percent: 10 }, per: 'cart', maxDiscount: '30.00' }],
      limits: { perShopper: 1 },
    }),
  },
  {
    key: 'volume',
    words: 'Sell in volume',
    beware: 'A step begins at its number: “from 3” counts at three. Put each a little above what people buy now.',
    begin: () => ({
      name: 'Sell in volume',
      label: 'The more, the cheaper',
      trigger: { automatic: true },
      when: { all: [] },
      rewards: [
        {
          ...FRESH.ladder(),
          steps: [
            { from: 3, rewards: [{ kind: 'discount', take: { percent: 5 }, per: 'unit' }] },
            { from: 10, rewards: [{ kind: 'discount', take: { percent: 10 }, per: 'unit' }] },
          ],
        },
      ],
    }),
  },
  {
    key: 'second',
    words: 'Second one at half price',
    beware: 'A quarter off both is the same only for equal prices. Here only the cheapest one is halved.',
    begin: () => ({
      name: 'Second one at half price',
      label: 'The cheaper one at half price',
      trigger: { automatic: true },
      when: { all: [{ quantity: { of: { in: [] }, op: '>=', n: 2 } }] },
      rewards: [{ kind: 'discount', on: { in: [] }, take: { percent: 50 }, per: 'unit', pick: 'cheapest', maxUnits: 1 }],
    }),
  },
  {
    key: 'buyget',
    words: 'Buy some, get some',
    beware: 'The shopper puts all of them into the cart, the free one too. To add the free one by itself, begin with “The same again”.',
    begin: () => ({
      name: 'Buy some, get some',
      label: '3 for 2',
      trigger: { automatic: true },
      when: { all: [] },
      rewards: [FRESH.buyGet()],
    }),
  },
  {
    key: 'again',
    words: 'The same again',
    beware: 'One more is added to the order by itself, for each one bought. Say how many at most, and look at what is in stock.',
    begin: () => ({
      name: 'The same again',
      label: 'One more of the same, free',
      trigger: { automatic: true },
      when: { all: [] },
      rewards: [{ kind: 'gift', give: { sameAs: { in: [] } }, atMost: 1 }],
    }),
  },
  {
    key: 'sets',
    words: 'Sell sets',
    beware: 'Leave out of each slot what would go into it too cheaply; the dearest that fit make the set unless you say so.',
    begin: () => ({
      name: 'Sell sets',
      label: 'Together 15 % off',
      trigger: { automatic: true },
      when: { all: [] },
      rewards: [FRESH.bundle()],
    }),
  },
  {
    key: 'delivery',
    words: 'Deliver free above an amount',
    beware: 'Without a bound it also pays for the dearest way to the furthest place. Say which ways, or how much at most.',
    begin: () => ({
      name: 'Deliver free above an amount',
      label: 'Free delivery from 50.00',
      trigger: { automatic: true },
      when: { all: [{ spend: { of: everything, from: '50.00' } }] },
      rewards: [FRESH.shipping()],
    }),
  },
  {
    key: 'gift',
    words: 'Thank with a gift',
    beware: 'A gift runs out. Give it a number of uses that the stock can bear.',
    begin: () => ({
      name: 'Thank with a gift',
      label: 'A gift from 80.00',
      trigger: { automatic: true },
      when: { all: [{ spend: { of: everything, from: '80.00' } }] },
      rewards: [FRESH.gift()],
      limits: { total: 50 },
    }),
  },
  {
    key: 'mishap',
    words: 'Credit for a mishap',
    beware: 'A credit pays like money. One use, and a code that cannot be guessed.',
    begin: () => ({
      name: 'Credit for a mishap',
      label: 'With our apologies',
      trigger: { codes: [''] },
      when: { all: [] },
      rewards: [FRESH.credit()],
      limits: { total: 1 },
    }),
  },
  {
    key: 'partner',
    words: 'One code for a partner',
    beware: 'Codes travel. Give it an end, a number of uses and a budget before you hand it out.',
    begin: () => ({
      name: 'Code for a partner',
      label: '5.00 off',
      trigger: { codes: [''] },
      when: { all: [{ spend: { of: everything, from: '40.00' } }] },
      rewards: [{ kind: 'discount', on: everything, take: { amount: '5.00' }, per: 'cart' }],
      limits: { total: 200, perShopper: 1, budget: '1000.00' },
    }),
  },
];

export const EMPTY_RULE = (): Omit<Promotion, 'id'> => ({
  name: '',
  label: '',
  trigger: { automatic: true },
  when: { all: [] },
  rewards: [{ kind: 'discount', on: { in: [] }, take: { percent: 10 }, per: 'unit' }],
});
