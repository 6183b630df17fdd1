import { add as addDinero, dinero, toDecimal } from 'dinero.js';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { add, formatIn, isZero, subtract } from '../../src/web/src/ui/format';

const EXPONENTS = { EUR: 2, JPY: 0, KWD: 3 };
const shop = formatIn('en-IE', 'Europe/Berlin', EXPONENTS);

/** Amounts as they stand in files, of one currency. */
const amounts = (decimals: number) =>
  fc.bigInt({ min: -(10n ** 16n), max: 10n ** 16n }).map((minor) => {
    const digits = (minor < 0n ? -minor : minor).toString().padStart(decimals + 1, '0');
    const text = decimals === 0 ? digits : `${digits.slice(0, -decimals)}.${digits.slice(-decimals)}`;
    return { minor, text: minor < 0n ? `-${text}` : text };
  });

describe('amounts as text', () => {
  test('are added as dinero.js adds them', () => {
    // Source: dinero.js, a general-purpose library for amounts.
    const currency = { code: 'EUR', base: 10, exponent: 2 };
    const small = fc.integer({ min: 0, max: 10 ** 9 });
    fc.assert(
      fc.property(small, small, (left, right) => {
        const [x, y] = [dinero({ amount: left, currency }), dinero({ amount: right, currency })];
        expect(add(toDecimal(x), toDecimal(y))).toBe(toDecimal(addDinero(x, y)));
      }),
    );
  });

  test.each([0, 2, 3])('with %i decimals stay exact beyond what a double holds', (decimals) => {
    fc.assert(
      fc.property(amounts(decimals), amounts(decimals), (left, right) => {
        const minor = (text: string) => BigInt(text.replace('.', ''));
        expect(minor(add(left.text, right.text))).toBe(left.minor + right.minor);
        expect(minor(subtract(left.text, right.text))).toBe(left.minor - right.minor);
        expect(isZero(subtract(left.text, left.text))).toBe(true);
        expect(add(left.text, right.text).split('.')[1]?.length ?? 0).toBe(decimals);
      }),
    );
  });

  test('of different lengths keep the longer one', () => {
    expect(add('10', '0.005')).toBe('10.005');
    expect(subtract('0.10', '0.2')).toBe('-0.10');
  });
});

describe('amounts and moments for people', () => {
  test('follow the locale and the currency', () => {
    // Source: Unicode CLDR, through the Intl object of the platform; exponents from ISO 4217.
    expect(shop.money('1234.50', 'EUR')).toBe('€1,234.50');
    expect(shop.money('1234', 'JPY')).toBe('¥1,234');
    expect(shop.plain('1.2', 'KWD')).toBe('1.200');
    expect(formatIn('de-DE', 'Europe/Berlin', EXPONENTS).money('1234.50', 'EUR')).toBe('1.234,50\u00a0€');
    expect(shop.number(12345)).toBe('12,345');
  });

  test('do not pass through a double on the way', () => {
    expect(shop.plain('90071992547409.93', 'EUR')).toBe('90,071,992,547,409.93');
  });

  test('say the time of the shop, not of the browser', () => {
    expect(shop.moment('2027-03-05T09:00:00Z')).toBe('Fri 5 Mar 2027, 10:00');
    expect(shop.day('2027-12-31T23:30:00Z')).toBe('1 Jan');
    expect(shop.toLocal('2027-07-01T22:15:00Z')).toBe('2027-07-02T00:15');
  });

  test('a local time leads to its moment and back, in any zone', () => {
    const zones = ['Europe/Berlin', 'America/St_Johns', 'Asia/Kathmandu', 'Pacific/Chatham', 'UTC'];
    const minutes = fc.integer({ min: Date.UTC(2024, 0) / 60000, max: Date.UTC(2030, 0) / 60000 });
    fc.assert(
      fc.property(fc.constantFrom(...zones), minutes, (zone, minute) => {
        const format = formatIn('en-IE', zone, EXPONENTS);
        const local = format.toLocal(minute * 60000);
        const moment = format.fromLocal(local);
        // An hour that comes twice has two moments; either is told as the same local time.
        expect(format.toLocal(moment as string)).toBe(local);
      }),
    );
  });

  test.each([
    ['Europe/Berlin', '2027-03-28T01:00Z', '2027-10-31T01:00Z'],
    ['America/St_Johns', '2027-03-14T05:30Z', '2027-11-07T04:30Z'],
    ['Pacific/Chatham', '2027-04-03T14:00Z', '2027-09-25T14:00Z'],
  ])('each quarter of an hour beside the clock changes of %s leads there and back', (zone, ...changes) => {
    // Source: IANA time zone database.
    const format = formatIn('en-IE', zone, EXPONENTS);
    for (const change of changes) {
      const at = Date.parse(change);
      expect(Date.parse(`${format.toLocal(at)}Z`) - Date.parse(`${format.toLocal(at - 60000)}Z`)).not.toBe(60000);
      for (let quarter = -96; quarter <= 96; quarter += 1) {
        const moment = at + quarter * 900000;
        const found = Date.parse(format.fromLocal(format.toLocal(moment)) as string);
        expect(format.toLocal(found)).toBe(format.toLocal(moment));
        // Only the hour that comes twice may lead to its other moment.
        expect([0, 3600000]).toContain(Math.abs(found - moment));
        if (Math.abs(quarter) > 4) expect(found).toBe(moment);
      }
    }
  });

  test('a time that a clock change skips is still a time, within the hour', () => {
    // Europe/Berlin, 28 March 2027: 02:00 becomes 03:00. Source: IANA time zone database.
    const moment = Date.parse(shop.fromLocal('2027-03-28T02:30') as string);
    expect(Math.abs(moment - Date.parse('2027-03-28T01:00:00Z'))).toBeLessThanOrEqual(30 * 60000);
    expect(shop.fromLocal('not a time')).toBeUndefined();
  });
});
