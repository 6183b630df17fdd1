import { cleanup, render, screen } from '@testing-library/react';
import fc from 'fast-check';
import { afterEach, describe, expect, test } from 'vitest';
import type { Told } from '../../src/web/src/counter/store';
import { wordsIn } from '../../src/web/src/counter/words';
import { Reductions } from '../../src/web/src/shop/Reductions';
import { formatIn } from '../../src/web/src/ui/format';

const format = formatIn('en-GB', 'Europe/Berlin', { EUR: 2 });
const money = (cents: number) => `${Math.floor(cents / 100)}.${String(cents % 100).padStart(2, '0')}`;
const cents = (amount: string) => Math.round(Number(amount) * 100);

afterEach(cleanup);

/** A basket whose sums are right: what is taken off goods, gifts and delivery, tax on top or within, credit. */
const basket = fc
  .record({
    goods: fc.integer({ min: 1, max: 90_000 }),
    share: fc.double({ min: 0, max: 1, noNaN: true }),
    gift: fc.integer({ min: 0, max: 9_000 }),
    shipping: fc.integer({ min: 0, max: 3_000 }),
    isFree: fc.boolean(),
    onTop: fc.integer({ min: 0, max: 5_000 }),
    credit: fc.double({ min: 0, max: 1, noNaN: true }),
  })
  .map(({ goods, share, gift, shipping, isFree, onTop, credit }): Told => {
    const off = Math.floor(goods * share);
    const delivered = isFree ? shipping : 0;
    const total = goods - off + shipping - delivered + onTop;
    const paid = Math.floor(total * credit);
    const promotion = (id: string, amount: number) => ({
      id,
      label: id,
      shopper: id,
      amount: money(amount),
      units: 0,
      from: 'order' as const,
    });
    return {
      currency: 'EUR',
      lines: [],
      gifts: gift > 0 ? [{ promotion: 'gift', label: 'gift', sku: 'G', name: 'Bell', quantity: 1, value: money(gift), net: '0.00' }] : [],
      promotions: [promotion('goods', off), promotion('gift', gift), promotion('delivery', delivered)],
      codes: [],
      totals: {
        regular: money(goods),
        goods: money(goods),
        discount: money(off),
        net: money(goods - off),
        giftValue: money(gift),
        shipping: money(shipping),
        shippingDiscount: money(delivered),
        tax: money(onTop),
        total: money(total),
        credit: money(paid),
        due: money(total - paid),
        saving: money(off + gift + delivered),
        points: 0,
        shippingUnavailable: false,
      },
      taxes: [],
      proved: true,
      nudges: [],
      progress: [],
    };
  });

describe('the way from the goods to what is to pay', () => {
  test('adds up to the cent, whatever was taken off, given, delivered, taxed and paid by credit', () => {
    fc.assert(
      fc.property(basket, (told) => {
        const { container, unmount } = render(<Reductions told={told} words={wordsIn('en')} format={format} />);
        const rows = [...container.querySelectorAll<HTMLElement>('[data-amount]')].map((row) => cents(row.dataset.amount ?? ''));
        expect(rows.reduce((sum, row) => sum + row, 0)).toBe(cents(told.totals.due));
        expect(container.querySelector<HTMLElement>('[data-testid=to-pay]')?.dataset.due).toBe(told.totals.due);
        // What comes to nothing is not told.
        expect(rows.slice(1)).not.toContain(0);
        unmount();
      }),
      { numRuns: 150 },
    );
  });

  test('names what was taken off with a minus, and tax that is in the prices apart', () => {
    const [told] = fc.sample(basket, { numRuns: 1, seed: 3 });
    if (!told) throw new Error('Nothing was drawn.');
    const totals = {
      ...told.totals,
      goods: '15.00',
      net: '13.50',
      shipping: '0.00',
      shippingDiscount: '0.00',
      tax: '2.16',
      total: '13.50',
      credit: '0.00',
      due: '13.50',
    };
    const promotions = [{ id: 'a', label: 'A tenth', shopper: '', amount: '1.50', units: 1, from: 'order' as const }];
    render(<Reductions told={{ ...told, promotions, gifts: [], totals }} words={wordsIn('de')} format={format} />);
    expect(screen.getByText('A tenth').nextElementSibling?.textContent).toBe('−1.50');
    expect(screen.getByText('darin Steuer').nextElementSibling?.textContent).toBe('2.16');
    expect(screen.queryByText('Steuer')).toBeNull();
  });
});
