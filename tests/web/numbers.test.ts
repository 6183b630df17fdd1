import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { readNumbersIn, toAmount, toNumber, toText } from '../../src/web/src/ui/numbers';

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

  test.each([
    ['en-GB', '10 %', '10'],
    ['en-GB', '€50', '50'],
    ['en-GB', 'EUR 50.00', '50.00'],
    ['en-GB', '1,234.50', '1234.50'],
    ['en-GB', '1,234', '1234'],
    ['en-GB', '1.234', '1.234'],
    ['en-GB', '1 234,50 €', '1234.50'],
    ['de-DE', '1.234,50', '1234.50'],
    ['de-DE', '1.234', '1234'],
    ['de-DE', '1,234', '1.234'],
    ['de-DE', '12,50 €', '12.50'],
    ['de-DE', "12'500", '12500'],
    ['en-GB', '−5', '-5'],
    ['en-GB', '1,234,567', '1234567'],
  ])('in %s are read as people write them: %s', (locale, typed, digits) => {
    readNumbersIn(locale);
    expect(toAmount(typed)).toBe(digits);
    expect(toNumber(typed)).toBe(Number(digits));
    readNumbersIn('en-GB');
  });

  test('are read back as the language itself writes them', () => {
    const any = fc.integer({ min: 0, max: 99_999_999 });
    fc.assert(
      fc.property(any, fc.constantFrom('en-GB', 'de-DE', 'fr-FR', 'de-CH', 'en-IN', 'ja-JP'), (minor, locale) => {
        readNumbersIn(locale);
        const written = new Intl.NumberFormat(locale, { style: 'currency', currency: 'EUR' }).format(minor / 100);
        // Groups of two, as in India, are no number elsewhere.
        if (!/,\d{2},/.test(written)) expect(Number(toAmount(written))).toBe(minor / 100);
        readNumbersIn('en-GB');
      }),
    );
  });

  test('that are none stay as they were typed, so that nothing typed is lost', () => {
    for (const typed of ['1e5', 'ten', '12.5.1', '٣', '0x10', 'Infinity', '5-', '1,2,3', '%', '€']) {
      expect(toNumber(typed)).toBe(typed);
      expect(toAmount(typed)).toBe(typed);
    }
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
