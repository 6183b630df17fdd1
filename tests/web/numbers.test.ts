import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { toAmount, toNumber, toText } from '../../src/web/src/ui/numbers';

describe('numbers as typed', () => {
  test('are read with a comma or a point', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 999_999 }),
        fc.integer({ min: 0, max: 9999 }),
        fc.constantFrom('.', ','),
        (whole, part, sign) => {
          expect(toNumber(` ${whole}${sign}${String(part).padStart(4, '0')} `)).toBeCloseTo(whole + part / 10_000, 8);
        },
      ),
    );
  });

  test('that are none stay as they were typed, so that nothing typed is lost', () => {
    for (const typed of ['-3', '1e5', 'ten', '12.5.1', '1,000.50', '٣', '0x10', 'Infinity']) expect(toNumber(typed)).toBe(typed);
    for (const typed of ['10 €', '-1.50', '1.000,50']) expect(toAmount(typed)).toBe(typed);
  });

  test('an empty field is no value, not zero', () => {
    expect(toNumber('  ')).toBeUndefined();
    expect(toAmount('')).toBeUndefined();
    expect(toText(undefined)).toBe('');
    expect(toText(null)).toBe('');
    expect(toText(0)).toBe('0');
    expect(toText({ odd: true })).toBe('');
  });

  test('an amount keeps its digits as text', () => {
    expect(toAmount('12,50')).toBe('12.50');
    expect(toAmount('12.50')).toBe('12.50');
    expect(toAmount('90071992547409.93')).toBe('90071992547409.93');
  });
});
