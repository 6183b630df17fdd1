import { lazy, memo, type ReactNode } from 'react';
import { matchRoute, useLocation, useRouter } from 'wouter';
import type { Json } from '../api/client';
import { PromotionList } from '../promotions/PromotionList';
import type { usePrint } from '../tape/usePrint';

/** What the pages share: the tape as it is printed, the page that is being written, and whether the counter takes that as if it were live. */
export type Shared = {
  printed: ReturnType<typeof usePrint>;
  onDraft: (draft: { id: string; document: Json } | null) => void;
  written: Json | null;
  asIfLive: boolean;
  onAsIfLive: (asIfLive: boolean) => void;
};

/** What one does there; in the order of the work. */
export const GROUPS = ['write', 'shop'] as const;

export type Group = (typeof GROUPS)[number];

export type KeyLine = [keys: string, what: string];

export type Place = {
  /** As the router matches it. */
  path: string;
  /** The title of the window; a page that has none of its own here says it itself. */
  title?: string;
  page: (shared: Shared, params: { id?: string }) => ReactNode;
  /** Where it stands in the head: under which word, and the letter of its name that leads to it. */
  head?: { name: string; group: Group; letter: string };
  /** How the command line offers it. */
  command?: { words: string; detail: string };
  /** Its own keys, under the words that name where they work; those of the tape come by themselves. */
  keys?: [where: string, keys: KeyLine[]];
  /** What stands on the right page in place of the tape; it is given the tape, for while there is nothing else to show. */
  right?: { name: string; page: (tape: ReactNode, shared: Shared) => ReactNode };
  /** Whether one sees it without the other pages, as a shopper does. */
  isAlone?: boolean;
};

// Loaded when they are opened, and drawn again when what they are given changes. The list is what one sees first.
const page = <Name extends string, Props>(load: () => Promise<{ [name in Name]: (props: Props) => ReactNode }>, name: Name) =>
  memo(lazy(async () => ({ default: (await load())[name] as (props: Props) => ReactNode })));
const Codes = page(() => import('../codes/Codes'), 'Codes');
const Counter = page(() => import('../counter/Counter'), 'Counter');
const Desk = page(() => import('../desk/Desk'), 'Desk');
const NewPromotion = page(() => import('../desk/NewPromotion'), 'NewPromotion');
const Editions = page(() => import('../editions/Editions'), 'Editions');
const Goods = page(() => import('../goods/Goods'), 'Goods');
const ItemPage = page(() => import('../goods/ItemPage'), 'ItemPage');
const Orders = page(() => import('../orders/Orders'), 'Orders');
const OrderPage = page(() => import('../orders/OrderPage'), 'OrderPage');
const Shoppers = page(() => import('../shoppers/Shoppers'), 'Shoppers');
const ShopperPage = page(() => import('../shoppers/ShopperPage'), 'ShopperPage');
const Takings = page(() => import('../takings/Takings'), 'Takings');
const TakingsPage = page(() => import('../takings/TakingsPage'), 'TakingsPage');
const Stacking = page(() => import('../stacking/Stacking'), 'Stacking');
const Store = page(() => import('../store/Store'), 'Store');
const Connecting = page(() => import('../store/Connecting'), 'Connecting');

/** The places of the ledger, the first that matches first. Head, routes, command line, keys and titles are read from here. */
export const PLACES: Place[] = [
  {
    path: '/promotions/new',
    title: 'New promotion',
    page: () => <NewPromotion />,
    command: { words: 'New promotion', detail: 'begin from what you want' },
  },
  {
    path: '/promotions/:id',
    page: ({ printed, onDraft }, { id = '' }) => <Desk id={id} printed={printed} onDraft={onDraft} />,
    keys: [
      'the desk',
      [
        ['Enter, Tab', 'accept a part and go on to the next'],
        ['Ctrl Enter', 'put the promotion live'],
        ['Alt M', 'at a number: the most it can give'],
        ['Alt with arrows', 'move a condition, into and out of brackets'],
        ['arrows', 'in a table: from cell to cell'],
      ],
    ],
  },
  {
    path: '/promotions',
    title: 'Promotions',
    page: ({ printed }) => <PromotionList print={printed.print} />,
    head: { name: 'Promotions', group: 'write', letter: 'p' },
    command: { words: 'All promotions', detail: 'the list' },
    keys: [
      'the list',
      [
        ['j  k', 'down and up the list'],
        ['Enter', 'open a promotion'],
        ['space', 'select a promotion'],
        ['f', 'filter the list'],
      ],
    ],
  },
  {
    path: '/codes',
    title: 'Codes',
    page: () => <Codes />,
    head: { name: 'Codes', group: 'write', letter: 'c' },
    command: { words: 'Codes', detail: 'made, brought, looked up' },
  },
  {
    path: '/takings',
    title: 'Takings',
    page: () => <Takings />,
    head: { name: 'Takings', group: 'write', letter: 't' },
    command: { words: 'Takings', detail: 'what each promotion brought, gave and left' },
    keys: ['the takings', [['arrows, j k', 'from promotion to promotion']]],
    right: { name: 'the promotion', page: () => <TakingsPage /> },
  },
  {
    path: '/stacking',
    title: 'Stacking',
    page: ({ onDraft }) => <Stacking onDraft={onDraft} />,
    head: { name: 'Stacking', group: 'write', letter: 's' },
    command: { words: 'Stacking', detail: 'who may meet whom in one cart' },
    keys: ['stacking', [['arrows, j k', 'from promotion to promotion']]],
  },
  {
    path: '/counter',
    title: 'Counter',
    page: ({ written, asIfLive, onAsIfLive }) => <Counter written={written} asIfLive={asIfLive} onAsIfLive={onAsIfLive} />,
    head: { name: 'Counter', group: 'shop', letter: 'c' },
    command: { words: 'Counter', detail: 'play the shopper' },
    isAlone: true,
  },
  {
    path: '/orders',
    title: 'Orders',
    page: () => <Orders />,
    head: { name: 'Orders', group: 'shop', letter: 'o' },
    command: { words: 'Orders', detail: 'found by number, shopper, code, promotion, day, item or amount' },
    keys: [
      'the orders',
      [
        ['arrows, j k', 'from order to order'],
        ['f', 'find an order'],
      ],
    ],
    right: { name: 'the order', page: () => <OrderPage /> },
  },
  {
    path: '/goods',
    title: 'Goods',
    page: () => <Goods />,
    head: { name: 'Goods', group: 'shop', letter: 'g' },
    command: { words: 'Goods', detail: 'items, prices, stock, lists from files' },
    keys: [
      'the goods',
      [
        ['arrows', 'from cell to cell'],
        ['Enter', 'accept a cell and go down'],
        ['Ctrl V', 'paste a block from a spreadsheet'],
        ['f', 'find an item'],
      ],
    ],
    right: { name: 'the item', page: (tape, { printed }) => <ItemPage tape={tape} print={printed.print} /> },
  },
  {
    path: '/shoppers',
    title: 'Shoppers',
    page: () => <Shoppers />,
    head: { name: 'Shoppers', group: 'shop', letter: 'h' },
    command: { words: 'Shoppers', detail: 'who buys, their groups, what they would get' },
    keys: ['the shoppers', [['f', 'find a shopper']]],
    right: { name: 'the shopper', page: () => <ShopperPage /> },
  },
  {
    path: '/store',
    title: 'Store',
    page: () => <Store />,
    head: { name: 'Store', group: 'shop', letter: 's' },
    command: { words: 'Store', detail: 'currencies, delivery, tax, keys, stock, forgetting a shopper' },
    right: { name: 'keys', page: () => <Connecting /> },
  },
  {
    path: '/editions',
    title: 'Editions',
    page: () => <Editions />,
    command: { words: 'Editions', detail: 'what was live, compared' },
  },
];

/** The group of a place: of one that the head does not name, that of those which begin with its first word. */
export const groupOf = (place: Place | undefined): Group | undefined =>
  place?.head?.group ?? PLACES.find((one) => one.head && place?.path.startsWith(`${one.path}/`))?.head?.group;

/** The place one is at, as the router matches it; none where nothing is. */
export function usePlace(): Place | undefined {
  const { parser } = useRouter();
  const [path] = useLocation();
  return PLACES.find((place) => matchRoute(parser, place.path, path)[0]);
}
