import { createContext, type ReactNode, useCallback, useContext, useEffect, useMemo, useRef, useState } from 'react';
import type { Cart, PrintedRemedy, SampleCart, ShopperInfo } from '../api/client';
import { useShopContext } from '../shop/shop';
import { isSame } from '../ui/same';
import { useHistory } from '../ui/undo';

const KEPT = 'rapid-ledger.cart';

type Kept = { cart: Cart; who: string; sample: string };

type TapeCart = Kept & {
  change: (change: Partial<Cart>) => void;
  setQuantity: (line: number, quantity: number) => void;
  /** So many units of an item, in one line; it is added if it is not there. */
  setUnits: (sku: string, units: number) => void;
  addItems: (items: { sku: string; quantity: number }[]) => void;
  letBuy: (shopper: ShopperInfo | null) => void;
  open: (sample: SampleCart) => void;
  clear: () => void;
  pick: (promotion: string, sku: string) => void;
  /** Takes a remedy; those about the shopper need a search and are left to the caller. */
  take: (remedy: PrintedRemedy) => void;
};

const CartContext = createContext<TapeCart | null>(null);

/** The cart on the tape: the sample until something is kept in this browser. What is done to it can be taken back. */
export function CartProvider({ children }: { children: ReactNode }) {
  const { info } = useShopContext();
  const history = useHistory();
  const samples = info.samples as SampleCart[];
  // A cart of one shop is none of another that was opened at the same address.
  const storage = info.isDemo ? KEPT : `${KEPT} ${info.name}`;
  const [kept, setKept] = useState<Kept>(() => fromStorage(storage) ?? fromSample(samples[0], info.places[0]?.code));
  const newest = useRef(kept);

  useEffect(() => localStorage.setItem(storage, JSON.stringify(kept)), [kept, storage]);

  const show = useCallback((next: Kept) => {
    newest.current = next;
    setKept(next);
  }, []);
  const edit = useCallback(
    (words: string, change: (old: Kept) => Kept, key?: string) => {
      const before = newest.current;
      const after = change(before);
      if (isSame(before, after)) return;
      show(after);
      history.push({ words, of: 'cart', key, undo: () => show(before), redo: () => show(after) });
    },
    [history, show],
  );
  const editCart = useCallback(
    (words: string, change: (cart: Cart) => Cart, key?: string) => edit(words, (old) => ({ ...old, cart: change(old.cart) }), key),
    [edit],
  );
  const change = useCallback(
    (some: Partial<Cart>) => editCart(`a change of ${wordFor(some)}`, (cart) => withoutEmpty({ ...cart, ...some })),
    [editCart],
  );
  const setQuantity = useCallback(
    (line: number, quantity: number) =>
      editCart(
        quantity < 1 ? 'a line taken out' : 'a quantity',
        (cart) => ({
          ...cart,
          lines:
            quantity < 1
              ? cart.lines.filter((_, place) => place !== line)
              : cart.lines.map((old, place) => (place === line ? { ...old, quantity } : old)),
        }),
        quantity < 1 ? undefined : `quantity ${line}`,
      ),
    [editCart],
  );
  const setUnits = useCallback(
    (sku: string, units: number) =>
      editCart('a quantity', (cart) => ({ ...cart, lines: withUnits(cart.lines, sku, units) }), `units ${sku}`),
    [editCart],
  );
  const addItems = useCallback(
    (items: { sku: string; quantity: number }[]) =>
      editCart(items.length === 1 ? `${items[0]?.quantity} ${items[0]?.sku} added` : 'items added', (cart) =>
        items.reduce((sum, item) => withItem(sum, item.sku, item.quantity), cart),
      ),
    [editCart],
  );
  const letBuy = useCallback(
    (shopper: ShopperInfo | null) =>
      edit('who buys', (old) => ({
        ...old,
        who: shopper?.name ?? 'Guest',
        cart: withoutEmpty({
          ...old.cart,
          shopper: shopper
            ? { id: shopper.id || undefined, groups: shopper.groups, orders: shopper.orders, spent: shopper.spent }
            : undefined,
        }),
      })),
    [edit],
  );
  const open = useCallback((sample: SampleCart) => edit('another cart opened', () => fromSample(sample)), [edit]);
  const clear = useCallback(
    () => edit('the cart emptied', (old) => ({ ...old, sample: '', cart: { ...old.cart, lines: [], codes: [], picks: {} } })),
    [edit],
  );
  const pick = useCallback(
    (promotion: string, sku: string) =>
      editCart('a gift picked', (cart) => ({ ...cart, picks: { ...cart.picks, [promotion]: [...(cart.picks?.[promotion] ?? []), sku] } })),
    [editCart],
  );
  const take = useCallback(
    (remedy: PrintedRemedy) => {
      const { kind, value } = remedy;
      if (kind === 'code') editCart(`the code ${value}`, (cart) => ({ ...cart, codes: [...cart.codes, value] }));
      else if (kind === 'add') addItems([{ sku: value, quantity: remedy.units }]);
      else if (kind === 'clock') change({ at: value });
      else if (kind === 'place') change({ destination: value });
      else if (kind === 'channel') change({ channel: value });
      else if (kind === 'currency') change({ currency: value });
      else if (kind === 'guest') letBuy(null);
    },
    [editCart, addItems, change, letBuy],
  );

  const value = useMemo(
    () => ({ ...kept, change, setQuantity, setUnits, addItems, letBuy, open, clear, pick, take }),
    [kept, change, setQuantity, setUnits, addItems, letBuy, open, clear, pick, take],
  );
  return <CartContext.Provider value={value}>{children}</CartContext.Provider>;
}

export function useCart(): TapeCart {
  const cart = useContext(CartContext);
  if (!cart) throw new Error('There is no cart around this.');
  return cart;
}

// Where there is no sample, the first cart is delivered where the shop is.
function fromSample(sample: SampleCart | undefined, destination?: string): Kept {
  if (!sample) return { cart: withoutEmpty({ destination, codes: [], lines: [] }), who: 'Guest', sample: '' };
  return { cart: sample.cart, who: sample.who ?? 'Guest', sample: sample.id };
}

function fromStorage(storage: string): Kept | null {
  try {
    const kept = JSON.parse(localStorage.getItem(storage) ?? 'null') as Kept | null;
    return kept && Array.isArray(kept.cart?.lines) && Array.isArray(kept.cart?.codes) ? kept : null;
  } catch {
    return null;
  }
}

// What is not set does not stand in the document.
function withoutEmpty(cart: Cart): Cart {
  return Object.fromEntries(Object.entries(cart).filter(([, value]) => value !== undefined && value !== '')) as Cart;
}

function withItem(cart: Cart, sku: string, units: number): Cart {
  const line = cart.lines.findIndex((old) => old.sku === sku);
  if (line < 0) return { ...cart, lines: [...cart.lines, { sku, quantity: units }] };
  return { ...cart, lines: cart.lines.map((old, place) => (place === line ? { ...old, quantity: old.quantity + units } : old)) };
}

function withUnits(lines: Cart['lines'], sku: string, units: number) {
  const first = lines.findIndex((line) => line.sku === sku);
  if (first < 0) return [...lines, { sku, quantity: units }];
  return lines
    .filter((line, place) => line.sku !== sku || place === first)
    .map((line) => (line.sku === sku ? { sku, quantity: units } : line));
}

/** The moment of a cart as the server is asked for it; none: now. */
export const clockOf = (at: string | undefined) => (at ? new Date(at).toISOString().replace(/\.\d+Z$/, 'Z') : undefined);

const WORDS: Record<string, string> = {
  at: 'the clock',
  channel: 'the channel',
  currency: 'the currency',
  destination: 'the destination',
  method: 'the delivery',
  codes: 'the codes',
  picks: 'the picks',
  language: 'the language',
};

const wordFor = (some: Partial<Cart>) => WORDS[Object.keys(some)[0] ?? ''] ?? 'the cart';
