import { keepPreviousData, useMutation, useQuery } from '@tanstack/react-query';
import {
  answered,
  api,
  type Cart,
  type Json,
  Refused,
  type Shelf,
  type StoreOffers,
  type StoreOrder,
  type StoreQuote,
  type StoreResult,
  type TapeAnswer,
} from '../api/client';
import { clockOf } from '../tape/cart';

/** What a shopper is told of a basket, by the store interface. Amounts are decimal texts of its currency. */
export type Told = StoreResult;

/** An order that was placed. */
export type Placed = StoreOrder;

// Also where the page is not served securely, and the browser gives no ids.
/** A key that no other request has. */
export const fresh = () => [...crypto.getRandomValues(new Uint8Array(16))].map((byte) => byte.toString(16).padStart(2, '0')).join('');

let key: Promise<string> | undefined;

/** The counter's own key of the store interface; another after every start of the server. */
async function bearer() {
  key ??= answered<{ key: string }>(api.GET('/api/counter')).then((told) => told.key);
  key.catch(() => {
    key = undefined;
  });
  return { Authorization: `Bearer ${await key}` };
}

async function asked<T>(call: (headers: { Authorization: string }) => Promise<T>): Promise<T> {
  try {
    return await call(await bearer());
  } catch (error) {
    // The server was started anew.
    if (!(error instanceof Refused) || error.status !== 401) throw error;
    key = undefined;
    return call(await bearer());
  }
}

/** What the basket costs. It follows what is live. */
export const useQuote = (cart: Cart, turn: unknown) =>
  useQuery({
    queryKey: ['quote', cart, turn],
    placeholderData: keepPreviousData,
    retry: false,
    staleTime: 0,
    queryFn: ({ signal }) =>
      asked((headers) => answered<StoreQuote>(api.POST('/store/v1/quote', { signal, headers, body: { cart, replaces: null } as never }))),
  });

/** The same as if a page that is being written were live: through the tape's own interface. */
export const useAsIfLive = (cart: Cart, draft: Json | null) =>
  useQuery({
    queryKey: ['as if live', cart, draft],
    enabled: draft !== null,
    placeholderData: keepPreviousData,
    retry: false,
    staleTime: 0,
    queryFn: async ({ signal }) =>
      (await answered<TapeAnswer>(api.POST('/api/tape', { signal, body: { cart, draft, asShopper: true } as never }))).asShopper,
  });

/** Of the cart, what offers are asked with. */
export const whoAsks = (cart: Cart, language: string) => ({
  language,
  destination: cart.destination,
  currency: cart.currency,
  shopper: cart.shopper?.id,
  at: clockOf(cart.at),
});

type OfferWish = { sku?: string; show: string; language?: string; destination?: string; currency?: string; shopper?: string; at?: string };

export const useOffers = (query: OfferWish, turn: unknown) =>
  useQuery({
    queryKey: ['offers', query, turn],
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: ({ signal }) => asked((headers) => answered<StoreOffers>(api.GET('/store/v1/offers', { signal, headers, params: { query } }))),
  });

export const useShelf = (q: string, category: string | undefined, currency: string | undefined, at: string | undefined, turn: unknown) =>
  useQuery({
    queryKey: ['shelf', q, category, currency, at, turn],
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      answered<Shelf>(api.GET('/api/shelf', { signal, params: { query: { q: q || undefined, category, currency, at: clockOf(at) } } })),
  });

/** Places the order as it was shown, paid at once; refused if it no longer is so. With the same key it is never placed twice. */
export const usePlace = () =>
  useMutation({
    mutationFn: ({ cart, shown, key }: { cart: Cart; shown: Json; key: string }) =>
      asked((headers) =>
        answered<StoreOrder>(
          api.POST('/store/v1/orders', {
            headers,
            params: { header: { 'Idempotency-Key': key } },
            body: { cart, shown, take: true } as never,
          }),
        ),
      ),
  });

export const useGiveBack = () =>
  useMutation({
    mutationFn: (id: string) =>
      asked((headers) =>
        answered<StoreOrder>(
          api.POST('/store/v1/orders/{id}/give-back', {
            headers,
            params: { path: { id }, header: { 'Idempotency-Key': fresh() } },
            body: null as never,
          }),
        ),
      ),
  });
