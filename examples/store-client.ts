// A client of the store interface in plain TypeScript, without dependencies: what a shop's server needs to price carts and to place orders.

export type Cart = {
  currency?: string;
  language?: string;
  method?: string;
  destination?: string;
  shopper?: { id: string };
  guestKey?: string;
  codes?: string[];
  picks?: Record<string, string[]>;
  lines: { sku: string; quantity: number }[];
};

/** What the shopper was shown; placing sends it back as it is. */
export type Shown = Record<string, unknown>;

export type Quote = { edition: number; validUntil: string; shown: Shown; result: Result; dropped: { promotion: string; sku: string }[] };

export type Result = {
  currency: string;
  lines: { sku: string; name: string; quantity: number; goods: string; net: string }[];
  promotions: { id: string; label: string; shopper: string; amount: string }[];
  codes: { code: string; status: string; shopper: string }[];
  nudges: { promotion: string; shopper: string; saves: string }[];
  totals: { total: string; due: string; saving: string };
};

export type Order = { id: string; state: 'held' | 'taken' | 'givenBack' | 'lapsed'; heldUntil: string | null; result: Result };

export type Problem = { at: string; code: string; message: string };

/** What a shop can show. */
export type Offers = {
  item: { sku: string; name: string; currency: string; regular: string; price: string } | null;
  offers: {
    promotion: string;
    label: string;
    says: string;
    takes: string[];
    code: string | null;
    ends: string | null;
    endsWords: string | null;
    prices: { units: number; total: string; each: string }[] | null;
  }[];
};

/** The store refused: what is wrong, and where. With 409 on placing, `now` is what the cart comes to by now. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    readonly problems: Problem[],
    readonly now?: { shown: Shown; result: Result },
  ) {
    super(problems[0]?.message ?? `The store answered ${status}.`);
  }
}

export class StoreClient {
  /**
   * @param address where Rapid Ledger answers, such as http://127.0.0.1:5080
   * @param key a server key; a page key may only ask for quotes and offers
   * @param client for whom a server asks (a session, an account): unknown codes are counted for each
   */
  constructor(
    private readonly address: string,
    private readonly key: string,
    private readonly client?: string,
  ) {}

  /** What a cart costs now. */
  quote(cart: Cart, replaces?: string): Promise<Quote> {
    return this.call('POST', 'quote', { cart, replaces });
  }

  /** Places an order: held for 30 minutes, or taken at once. Sent again under the same key it is the same order. */
  place(cart: Cart, quote: Quote, options: { key: string; take?: boolean; hold?: number; replaces?: string }): Promise<Order> {
    const { key, ...rest } = options;
    return this.call('POST', 'orders', { cart, shown: quote.shown, ...rest }, key);
  }

  /** The order was paid. */
  take(id: string, key: string): Promise<Order> {
    return this.call('POST', `orders/${encodeURIComponent(id)}/take`, undefined, key);
  }

  /** All of an order comes back, or some units of its lines. */
  giveBack(id: string, key: string, lines?: { line: number; quantity: number }[]): Promise<Order> {
    return this.call('POST', `orders/${encodeURIComponent(id)}/give-back`, lines ? { lines } : undefined, key);
  }

  order(id: string): Promise<Order> {
    return this.call('GET', `orders/${encodeURIComponent(id)}`);
  }

  /** What can be shown beside an item, in the basket, or as the offers of today. */
  offers(wish: { sku?: string; show?: 'item' | 'basket' | 'today'; destination?: string; currency?: string; language?: string; shopper?: string } = {}): Promise<Offers> {
    return this.call('GET', `offers?${new URLSearchParams(wish)}`);
  }

  /** Orders that changed after a change, in order; go on with the `after` that comes back while there are more. `end` begins with what comes next. */
  changes(after: number | 'end'): Promise<{ orders: Order[]; after: number; more: boolean }> {
    return this.call('GET', `orders?after=${after}`);
  }

  private async call<T>(method: string, path: string, body?: unknown, key?: string): Promise<T> {
    // What did not come through is sent again: the key makes sure that it is done once.
    for (let attempt = 0; ; attempt += 1) {
      let seconds = 0.25 * 2 ** attempt;
      try {
        const response = await fetch(`${this.address}/store/v1/${path}`, {
          method,
          headers: {
            Authorization: `Bearer ${this.key}`,
            ...(this.client === undefined ? {} : { 'Store-Client': this.client }),
            ...(body === undefined ? {} : { 'Content-Type': 'application/json' }),
            ...(key === undefined ? {} : { 'Idempotency-Key': key }),
          },
          body: body === undefined ? undefined : JSON.stringify(body),
        });
        const answer = await response.json();
        if (response.ok) return answer as T;
        if ((response.status !== 429 && response.status !== 503) || attempt === 3)
          throw new Refused(response.status, answer.problems ?? [], answer.shown ? answer : undefined);
        seconds = Math.max(seconds, Number(response.headers.get('Retry-After') ?? 0));
      } catch (error) {
        if (error instanceof Refused || attempt === 3) throw error;
      }
      await new Promise((resolve) => setTimeout(resolve, 1000 * seconds));
    }
  }
}
