// Two clients of the store interface, generated from the OpenAPI document by different programs (openapi-typescript with openapi-fetch, and
// Hey API's openapi-ts, whose code stands under "made"): each makes the five calls, and each of ten mistakes with the second does not
// compile. Those with the first stand in tests/web/store-client.types.ts. Takes the address and a key; prints what each was told.
import createClient from '../../src/web/node_modules/openapi-fetch';
import type { paths } from '../../src/web/src/api/schema';
import { client } from './made/client.gen';
import { giveBackOrder, offers, placeOrder, quote, takeOrder } from './made/sdk.gen';
import type { Shown, StoreCart } from './made/types.gen';

const [address = '', key = ''] = process.argv.slice(2);
const cart: StoreCart = { lines: [{ sku: 'B', quantity: 3 }] };
const once = (name: string) => ({ 'Idempotency-Key': name });

async function byHeyApi() {
  client.setConfig({ baseUrl: address, auth: () => key });
  const { data: quoted } = await quote({ body: { cart } });
  if (!quoted) throw new Error('no quote');
  const { data: order } = await placeOrder({ body: { cart, shown: quoted.shown, hold: 60 }, headers: once('a1') });
  if (!order) throw new Error('no order');
  const path = { id: order.id };
  const { data: taken } = await takeOrder({ path, headers: once('a2') });
  const { data: back } = await giveBackOrder({ path, headers: once('a3'), body: { lines: [{ line: 0, quantity: 1 }] } });
  const { data: offered } = await offers({ query: { sku: 'B', show: 'item' } });
  const { error } = await placeOrder({ body: { cart: { lines: [{ sku: 'B', quantity: 2 }] }, shown: quoted.shown }, headers: once('a4') });
  const now = error && 'result' in error ? error.result?.totals.due : undefined;
  return [quoted.result.totals.due, order.state, taken?.state, back?.returned?.amount, offered?.item?.sku, now].join(' ');
}

async function byOpenApiFetch() {
  const store = createClient<paths>({ baseUrl: address, headers: { Authorization: `Bearer ${key}` } });
  const { data: quoted } = await store.POST('/store/v1/quote', { body: { cart } });
  if (!quoted) throw new Error('no quote');
  const place = (shown: typeof quoted.shown, units: number, name: string) =>
    store.POST('/store/v1/orders', { params: { header: once(name) }, body: { cart: { lines: [{ sku: 'B', quantity: units }] }, shown, hold: 60 } });
  const { data: order } = await place(quoted.shown, 3, 'b1');
  if (!order) throw new Error('no order');
  const params = (name: string) => ({ path: { id: order.id }, header: once(name) });
  const { data: taken } = await store.POST('/store/v1/orders/{id}/take', { params: params('b2') });
  const { data: back } = await store.POST('/store/v1/orders/{id}/give-back', { params: params('b3'), body: { lines: [{ line: 0, quantity: 1 }] } });
  const { data: offered } = await store.GET('/store/v1/offers', { params: { query: { sku: 'B', show: 'item' } } });
  const { error } = await place(quoted.shown, 2, 'b4');
  const now = error && 'result' in error ? error.result?.totals.due : undefined;
  return [quoted.result.totals.due, order.state, taken?.state, back?.returned?.amount, offered?.item?.sku, now].join(' ');
}

export async function mistakes(shown: Shown) {
  // @ts-expect-error a cart without lines
  await quote({ body: { cart: {} } });
  // @ts-expect-error a misspelt member of the cart
  await quote({ body: { cart: { lines: [], code: ['A'] } } });
  // @ts-expect-error a quantity as a text
  await quote({ body: { cart: { lines: [{ sku: 'A', quantity: '1' }] } } });
  // @ts-expect-error a cart that says when
  await quote({ body: { cart: { lines: [], at: '2027-03-05T10:00:00Z' } } });
  // @ts-expect-error an order without a key of its own
  await placeOrder({ body: { cart, shown } });
  // @ts-expect-error an order without what was shown
  await placeOrder({ body: { cart }, headers: once('a') });
  // @ts-expect-error "replace" for "replaces"
  await placeOrder({ body: { cart, shown, replace: 'o1' }, headers: once('a') });
  // @ts-expect-error "line" for "lines"
  await giveBackOrder({ path: { id: 'o1' }, headers: once('a'), body: { line: [] } });
  // @ts-expect-error a take without its key
  await takeOrder({ path: { id: 'o1' } });
  // @ts-expect-error offers by "place", as they once were asked for
  await offers({ query: { place: 'item' } });
}

console.log(await byHeyApi());
console.log(await byOpenApiFetch());
