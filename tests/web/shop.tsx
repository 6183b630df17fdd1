import type { ReactNode } from 'react';
import type { ShopInfo } from '../../src/web/src/api/client';
import { ShopProvider } from '../../src/web/src/shop/shop';
import { CartProvider, useCart } from '../../src/web/src/tape/cart';

/** A shop with a tape, of which only the carts matter. */
export function Within({ samples, children }: { samples: object[]; children: ReactNode }) {
  const info = {
    isDemo: true,
    taxed: null,
    places: [],
    methods: [],
    locale: 'en-IE',
    timeZone: 'Europe/Berlin',
    currency: 'EUR',
    currencies: [{ code: 'EUR', exponent: 2 }],
    samples,
  };
  return (
    <ShopProvider info={info as unknown as ShopInfo}>
      <CartProvider>
        {children}
        <Watch />
      </CartProvider>
    </ShopProvider>
  );
}

/** The cart that was on the tape last. */
export let cart: ReturnType<typeof useCart>;

function Watch() {
  cart = useCart();
  return null;
}
