// A client of the store interface that is typed from the OpenAPI document (openapi-typescript): each of these mistakes does not compile.
// Checked by the compiler alone; nothing here is run.
import createClient from '../../src/web/node_modules/openapi-fetch';
import type { components, paths } from '../../src/web/src/api/schema';

const store = createClient<paths>({ baseUrl: 'http://127.0.0.1:5080' });
type Cart = components['schemas']['StoreCart'];
const cart: Cart = { lines: [{ sku: 'A', quantity: 1 }] };
/** A body by its form in the document: members that it does not have do not compile. */
const form = <Name extends keyof components['schemas']>(_: Name, body: components['schemas'][Name]) => body;
const key = { header: { 'Idempotency-Key': 'one' } };

export async function wellTyped() {
  const { data: quote } = await store.POST('/store/v1/quote', { body: { cart } });
  if (!quote) return;
  const { data: order, error } = await store.POST('/store/v1/orders', { params: key, body: { cart, shown: quote.shown, hold: 60 } });
  if (error && 'shown' in error) return error.result?.totals.due;
  await store.POST('/store/v1/orders/{id}/take', { params: { path: { id: order?.id ?? '' }, ...key } });
  await store.POST('/store/v1/orders/{id}/give-back', {
    params: { path: { id: 'o1' }, ...key },
    body: { lines: [{ line: 0, quantity: 1 }] },
  });
  const { data: offers } = await store.GET('/store/v1/offers', { params: { query: { sku: 'A', show: 'item' } } });
  return offers?.offers.map((offer) => offer.takes);
}

export async function mistakes(shown: components['schemas']['Shown']) {
  // @ts-expect-error a cart without lines
  await store.POST('/store/v1/quote', { body: { cart: {} } });
  // @ts-expect-error a misspelt member of the cart
  form('QuoteRequest', { cart: { lines: [], code: ['A'] } });
  // @ts-expect-error a quantity as a text
  await store.POST('/store/v1/quote', { body: { cart: { lines: [{ sku: 'A', quantity: '1' }] } } });
  // @ts-expect-error a cart that says when
  form('QuoteRequest', { cart: { lines: [], at: '2027-03-05T10:00:00Z' } });
  // @ts-expect-error an order without a key of its own
  await store.POST('/store/v1/orders', { body: { cart, shown } });
  // @ts-expect-error an order without what was shown
  await store.POST('/store/v1/orders', { params: key, body: { cart } });
  // @ts-expect-error "replace" for "replaces"
  form('PlaceRequest', { cart, shown, replace: 'o1' });
  // @ts-expect-error "line" for "lines"
  form('GiveBackRequest', { line: [] });
  // @ts-expect-error a take without its key
  await store.POST('/store/v1/orders/{id}/take', { params: { path: { id: 'o1' } } });
  // @ts-expect-error offers by "place", as they once were asked for
  await store.GET('/store/v1/offers', { params: { query: { place: 'item' } } });
}
