import { createContext, type ReactNode, useCallback, useContext, useEffect, useMemo, useState } from 'react';
import type { Cart, PrintedRemedy, SampleCart, ShopperInfo } from '../api/client';
import { useShopContext } from '../shop/shop';

const KEPT = 'rapid-ledger.cart';

type Kept = { cart: Cart; who: string; sample: string };

type TapeCart = Kept & {
  change: (change: Partial<Cart>) => void;
  setQuantity: (line: number, quantity: number) => void;
  addItem: (sku: string, units?: number) => void;
  letBuy: (shopper: ShopperInfo | null) => void;
  open: (sample: SampleCart) => void;
  clear: () => void;
  pick: (promotion: string, sku: string) => void;
  /** Takes a remedy; those about the shopper need a search and are left to the caller. */
  take: (remedy: PrintedRemedy) => void;
};

const CartContext = createContext<TapeCart | null>(null);

/** The cart on the tape: the sample until something is kept in this browser. */
export function CartProvider({ children }: { children: ReactNode }) {
  const { info } = useShopContext();
  const samples = info.samples as SampleCart[];
  const [kept, setKept] = useState<Kept>(() => fromStorage() ?? fromSample(samples[0]));

  useEffect(() => localStorage.setItem(KEPT, JSON.stringify(kept)), [kept]);

  const edit = useCallback((change: (cart: Cart) => Cart) => setKept((old) => ({ ...old, cart: change(old.cart) })), []);
  const change = useCallback((some: Partial<Cart>) => edit((cart) => withoutEmpty({ ...cart, ...some })), [edit]);
  const setQuantity = useCallback(
    (line: number, quantity: number) =>
      edit((cart) => ({
        ...cart,
        lines:
          quantity < 1
            ? cart.lines.filter((_, place) => place !== line)
            : cart.lines.map((old, place) => (place === line ? { ...old, quantity } : old)),
      })),
    [edit],
  );
  const addItem = useCallback(
    (sku: string, units = 1) =>
      edit((cart) => {
        const line = cart.lines.findIndex((old) => old.sku === sku);
        if (line < 0) return { ...cart, lines: [...cart.lines, { sku, quantity: units }] };
        return { ...cart, lines: cart.lines.map((old, place) => (place === line ? { ...old, quantity: old.quantity + units } : old)) };
      }),
    [edit],
  );
  const letBuy = useCallback(
    (shopper: ShopperInfo | null) =>
      setKept((old) => ({
        ...old,
        who: shopper?.name ?? 'Guest',
        cart: withoutEmpty({
          ...old.cart,
          shopper: shopper
            ? { id: shopper.id || undefined, groups: shopper.groups, orders: shopper.orders, spent: shopper.spent }
            : undefined,
        }),
      })),
    [],
  );
  const open = useCallback((sample: SampleCart) => setKept(fromSample(sample)), []);
  const clear = useCallback(() => edit((cart) => ({ ...cart, lines: [], codes: [], picks: {} })), [edit]);
  const pick = useCallback(
    (promotion: string, sku: string) =>
      edit((cart) => ({ ...cart, picks: { ...cart.picks, [promotion]: [...(cart.picks?.[promotion] ?? []), sku] } })),
    [edit],
  );
  const take = useCallback(
    (remedy: PrintedRemedy) => {
      const { kind, value } = remedy;
      if (kind === 'code') edit((cart) => ({ ...cart, codes: [...cart.codes, value] }));
      else if (kind === 'add') addItem(value, remedy.units);
      else if (kind === 'clock') change({ at: value });
      else if (kind === 'place') change({ destination: value });
      else if (kind === 'channel') change({ channel: value });
      else if (kind === 'currency') change({ currency: value });
      else if (kind === 'guest') letBuy(null);
    },
    [edit, addItem, change, letBuy],
  );

  const value = useMemo(
    () => ({ ...kept, change, setQuantity, addItem, letBuy, open, clear, pick, take }),
    [kept, change, setQuantity, addItem, letBuy, open, clear, pick, take],
  );
  return <CartContext.Provider value={value}>{children}</CartContext.Provider>;
}

export function useCart(): TapeCart {
  const cart = useContext(CartContext);
  if (!cart) throw new Error('There is no cart around this.');
  return cart;
}

function fromSample(sample: SampleCart | undefined): Kept {
  if (!sample) return { cart: { codes: [], lines: [] }, who: 'Guest', sample: '' };
  return { cart: sample.cart, who: sample.who ?? 'Guest', sample: sample.id };
}

function fromStorage(): Kept | null {
  try {
    const kept = JSON.parse(localStorage.getItem(KEPT) ?? 'null') as Kept | null;
    return kept && Array.isArray(kept.cart?.lines) && Array.isArray(kept.cart?.codes) ? kept : null;
  } catch {
    return null;
  }
}

// What is not set does not stand in the document.
function withoutEmpty(cart: Cart): Cart {
  return Object.fromEntries(Object.entries(cart).filter(([, value]) => value !== undefined && value !== '')) as Cart;
}
