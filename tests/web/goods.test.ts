import { describe, expect, it } from 'vitest';
import { memberOf } from '../../src/web/src/goods/GoodsRow';
import { changed } from '../../src/web/src/goods/rounding';
import { guessed } from '../../src/web/src/shop/guesses';
import { readNumbersIn } from '../../src/web/src/ui/numbers';

describe('prices of many items', () => {
  it('are raised and lowered exactly, half a unit up, whatever the currency’s decimals', () => {
    // By hand: 21 × 1.05 = 22.05; 9.99 × 0.9 = 8.991; 0.05 × 1.1 = 0.055; 985 × 0.9 = 886.5; 1.234 × 1.125 = 1.38825.
    expect(changed('21.00', 2, 5)).toBe('22.05');
    expect(changed('9.99', 2, -10)).toBe('8.99');
    expect(changed('0.05', 2, 10)).toBe('0.06');
    expect(changed('985', 0, -10)).toBe('887');
    expect(changed('1.234', 3, 12.5)).toBe('1.388');
    expect(changed('90071992547409.91', 2, 100)).toBe('180143985094819.82');
    expect(changed('5', 2, -100)).toBe('0.00');
  });

  it('end as they are to end, never below what the percentage makes of them', () => {
    expect(changed('21.00', 2, 5, 0.9)).toBe('22.90');
    expect(changed('21.80', 2, 5, 0.9)).toBe('22.90');
    expect(changed('21.90', 2, 5, 0.99)).toBe('23.99');
    expect(changed('2.00', 2, 5, 9.9)).toBe('9.90');
    expect(changed('12.00', 2, 5, 9.9)).toBe('19.90');
    expect(changed('985', 0, 10, 90)).toBe('1090');
    for (let minor = 1; minor < 4_000; minor += 7) {
      const amount = (minor / 100).toFixed(2);
      const plain = Number(changed(amount, 2, 7));
      const ended = Number(changed(amount, 2, 7, 0.95));
      expect(Math.round(ended * 100) % 100).toBe(95);
      expect(ended).toBeGreaterThanOrEqual(plain);
      expect(ended - plain).toBeLessThan(1);
    }
  });
});

describe('a cell of goods', () => {
  it('is read as the shop’s language writes it; nothing empties it, and what is no number stays to be told', () => {
    readNumbersIn('de-AT');
    expect(memberOf('regular', '1.299,50')).toBe('1299.50');
    expect(memberOf('cost', ' ')).toBeNull();
    expect(memberOf('stock', '12')).toBe(12);
    expect(memberOf('stock', 'many')).toBe('many');
    readNumbersIn('en-GB');
    expect(memberOf('regular', '1,299.50')).toBe('1299.50');
  });
});

describe('what is guessed of a shop', () => {
  it('comes from the language and the zone of the browser', () => {
    expect(guessed(['de-AT', 'en'], 'Europe/Vienna')).toMatchObject({
      currency: 'EUR',
      country: 'AT',
      zone: 'Europe/Vienna',
      language: 'de',
    });
    expect(guessed(['ja', 'en-GB'], 'Asia/Tokyo')).toMatchObject({ currency: 'GBP', country: 'GB', language: 'en' });
    expect(guessed(['xx'], '')).toMatchObject({ currency: 'EUR', country: 'DE', zone: 'UTC' });
    expect(guessed(['en-US'], 'UTC').zones.some((zone) => zone.value === 'UTC')).toBe(true);
  });
});
