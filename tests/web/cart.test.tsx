import { act, renderHook } from '@testing-library/react';
import fc from 'fast-check';
import type { ReactNode } from 'react';
import { beforeEach, describe, expect, test } from 'vitest';
import type { PrintedRemedy, SampleCart, ShopperInfo } from '../../src/web/src/api/client';
import { useCart } from '../../src/web/src/tape/cart';
import { Within } from './shop';

const sample: SampleCart = {
  id: 'spring',
  name: 'Spring tour',
  who: 'Malte (club)',
  cart: { method: 'parcel', destination: 'DE-BE', codes: ['RIDE10'], lines: [{ sku: 'A', quantity: 2 }] },
} as SampleCart;

const wrapper = ({ children }: { children: ReactNode }) => <Within samples={[sample]}>{children}</Within>;
const tape = () => renderHook(() => useCart(), { wrapper });
const remedy = (kind: string, value: string, units = 1) => ({ kind, value, units }) as unknown as PrintedRemedy;

beforeEach(() => localStorage.clear());

describe('the cart on the tape', () => {
  test('is the first sample, and what was made of it after a reload', () => {
    const first = tape();
    expect(first.result.current.cart).toEqual(sample.cart);
    expect(first.result.current.who).toBe('Malte (club)');
    act(() => first.result.current.addItems([{ sku: 'B', quantity: 3 }]));
    act(() => first.result.current.letBuy(null));
    first.unmount();
    const second = tape();
    expect(second.result.current.cart.lines).toEqual([
      { sku: 'A', quantity: 2 },
      { sku: 'B', quantity: 3 },
    ]);
    expect(second.result.current.who).toBe('Guest');
    act(() => second.result.current.open(sample));
    expect(second.result.current.cart).toEqual(sample.cart);
  });

  test.each(['', '{', 'null', '7', '{"cart":{}}', '{"cart":{"lines":[]}}', '{"cart":{"lines":{},"codes":[]}}'])(
    'is the sample where the browser holds %s',
    (broken) => {
      localStorage.setItem('rapid-ledger.cart', broken);
      expect(tape().result.current.cart).toEqual(sample.cart);
    },
  );

  test('has so many units of an item in one line, where it stood first', () => {
    localStorage.setItem(
      'rapid-ledger.cart',
      JSON.stringify({
        who: 'Guest',
        sample: '',
        cart: {
          codes: [],
          lines: [
            { sku: 'A', quantity: 2 },
            { sku: 'B', quantity: 1 },
            { sku: 'A', quantity: 5 },
          ],
        },
      }),
    );
    const { result } = tape();
    act(() => result.current.setUnits('A', 4));
    expect(result.current.cart.lines).toEqual([
      { sku: 'A', quantity: 4 },
      { sku: 'B', quantity: 1 },
    ]);
    act(() => result.current.setUnits('C', 2));
    expect(result.current.cart.lines.at(-1)).toEqual({ sku: 'C', quantity: 2 });
    expect(result.current.cart.lines).toHaveLength(3);
  });

  test('holds each item once, with as many as were added and not taken away', () => {
    const steps = fc.array(fc.tuple(fc.constantFrom('A', 'B', 'C'), fc.integer({ min: -1, max: 4 })), { maxLength: 12 });
    fc.assert(
      fc.property(steps, (todo) => {
        localStorage.clear();
        const { result, unmount } = tape();
        const expected = new Map([['A', 2]]);
        for (const [sku, units] of todo) {
          const line = result.current.cart.lines.findIndex((each) => each.sku === sku);
          if (units > 0) {
            act(() => result.current.addItems([{ sku, quantity: units }]));
            expected.set(sku, (expected.get(sku) ?? 0) + units);
          } else if (line >= 0) {
            // Fewer than one takes the line out.
            const left = units < 0 ? 0 : 7;
            act(() => result.current.setQuantity(line, left));
            if (left === 0) expected.delete(sku);
            else expected.set(sku, left);
          }
        }
        expect(new Map(result.current.cart.lines.map((each) => [each.sku, each.quantity]))).toEqual(expected);
        expect(result.current.cart.lines.length).toBe(expected.size);
        unmount();
      }),
      { numRuns: 60 },
    );
  });

  test('says nothing of what is not set', () => {
    const { result } = tape();
    act(() => result.current.change({ method: undefined, destination: '', currency: 'GBP' }));
    expect(result.current.cart).toEqual({ currency: 'GBP', codes: ['RIDE10'], lines: sample.cart.lines });
  });

  test('is bought by whoever is chosen, and by a guest again', () => {
    const { result } = tape();
    const shopper = { id: 's1', name: 'Ada', groups: ['trade'], orders: 4, spent: '310.00' } as unknown as ShopperInfo;
    act(() => result.current.letBuy(shopper));
    expect(result.current.who).toBe('Ada');
    expect(result.current.cart.shopper).toEqual({ id: 's1', groups: ['trade'], orders: 4, spent: '310.00' });
    act(() => result.current.take(remedy('guest', '')));
    expect(result.current.cart).not.toHaveProperty('shopper');
  });

  test('takes what the tape proposes', () => {
    const { result } = tape();
    for (const [kind, value] of [
      ['code', 'CLIMB'],
      ['add', 'A'],
      ['clock', '2027-03-05T18:00:00+01:00'],
      ['place', 'AT'],
      ['channel', 'shop'],
      ['currency', 'GBP'],
    ] as [string, string][])
      act(() => result.current.take(remedy(kind, value, 3)));
    expect(result.current.cart).toEqual({
      at: '2027-03-05T18:00:00+01:00',
      channel: 'shop',
      currency: 'GBP',
      method: 'parcel',
      destination: 'AT',
      codes: ['RIDE10', 'CLIMB'],
      lines: [{ sku: 'A', quantity: 5 }],
    });
  });

  test('keeps picks by promotion, in the order in which they were made, until it is emptied', () => {
    const { result } = tape();
    for (const [promotion, sku] of [
      ['bell', 'B1'],
      ['socks', 'S1'],
      ['bell', 'B2'],
      ['bell', 'B1'],
    ] as [string, string][])
      act(() => result.current.pick(promotion, sku));
    expect(result.current.cart.picks).toEqual({ bell: ['B1', 'B2', 'B1'], socks: ['S1'] });
    act(() => result.current.clear());
    expect(result.current.cart).toEqual({ method: 'parcel', destination: 'DE-BE', codes: [], lines: [], picks: {} });
  });
});
