/** Writes amounts and moments in the shop's locale and zone. */

import { readLocal } from './local';
export type Format = {
  /** 12.50 → €12.50 */
  money: (amount: string, currency: string) => string;
  /** 12.50 → 12.50, in the locale, without the sign. */
  plain: (amount: string, currency: string) => string;
  moment: (at: string | number) => string;
  day: (at: string | number) => string;
  /** A day and a time, without the year. */
  lately: (at: string | number) => string;
  /** An instant as a local time of the shop's zone, for a field: 2027-03-05T10:00 */
  toLocal: (at: string | number) => string;
  /** The first instant of a local time of the shop's zone. */
  fromLocal: (local: string) => string | undefined;
  /** What a change of the clocks does to a local time: it is left out that day, or comes twice; as a rule nothing. */
  clocksAt: (local: string) => string | undefined;
  number: (value: number) => string;
  /** A share in percent with one decimal; none: nothing. */
  share: (percent: number | null | undefined) => string;
};

export function formatIn(locale: string, zone: string, exponents: Record<string, number>): Format {
  const styles = new Map<string, Intl.NumberFormat>();
  const style = (key: string, options: Intl.NumberFormatOptions) => {
    const known = styles.get(key) ?? new Intl.NumberFormat(locale, options);
    styles.set(key, known);
    return known;
  };
  const digits = (currency: string) => exponents[currency] ?? 2;
  const moments = new Intl.DateTimeFormat(locale, {
    timeZone: zone,
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    year: 'numeric',
    hour: '2-digit',
    minute: '2-digit',
  });
  const days = new Intl.DateTimeFormat(locale, { timeZone: zone, day: 'numeric', month: 'short' });
  const late = new Intl.DateTimeFormat(locale, { timeZone: zone, day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });
  const parts = new Intl.DateTimeFormat('en-CA', {
    timeZone: zone,
    hourCycle: 'h23',
    year: 'numeric',
    month: '2-digit',
    day: '2-digit',
    hour: '2-digit',
    minute: '2-digit',
  });
  const toLocal = (at: string | number) => {
    const found = Object.fromEntries(parts.formatToParts(new Date(at)).map((part) => [part.type, part.value]));
    return `${found.year}-${found.month}-${found.day}T${found.hour}:${found.minute}`;
  };
  const fromLocal = (local: string) => {
    const asUtc = readLocal(local);
    if (Number.isNaN(asUtc)) return undefined;
    // The zone's offset differs by at most a day and changes at most once in it: two steps find it.
    let guess = asUtc;
    for (let step = 0; step < 2; step += 1) guess += asUtc - readLocal(toLocal(guess)) - (guess % 60_000);
    // Years that have not four digits cannot be told so.
    if (Number.isNaN(guess)) return undefined;
    // Where clocks go back a time comes twice, an hour apart, in one zone half of one: the first is meant.
    for (const minutes of [60, 30]) if (toLocal(guess - minutes * 60_000) === local.slice(0, 16)) guess -= minutes * 60_000;
    return new Date(guess).toISOString().replace('.000Z', 'Z');
  };
  return {
    money: (amount, currency) =>
      // The amount is a decimal text and stays one: Intl formats texts without a detour through floating point.
      style(`m${currency}`, { style: 'currency', currency, currencyDisplay: 'narrowSymbol' }).format(amount as unknown as number),
    plain: (amount, currency) =>
      style(`p${currency}`, { minimumFractionDigits: digits(currency), maximumFractionDigits: digits(currency) }).format(
        amount as unknown as number,
      ),
    moment: (at) => moments.format(new Date(at)),
    day: (at) => days.format(new Date(at)),
    lately: (at) => late.format(new Date(at)),
    toLocal,
    fromLocal,
    clocksAt: (local) => {
      const instant = fromLocal(local);
      if (instant === undefined) return undefined;
      const [wanted, taken] = [local.slice(0, 16), toLocal(instant)];
      const time = wanted.slice(11);
      if (taken !== wanted) return `there is no ${time} that day, the clocks go forward: ${taken.slice(11)} is taken`;
      const isTwice = [30, 60].some((minutes) => toLocal(Date.parse(instant) + minutes * 60_000) === wanted);
      return isTwice ? `${time} comes twice that day, the clocks go back: the first is taken` : undefined;
    },
    number: (value) => style('n', {}).format(value),
    share: (percent) => (percent == null ? '' : `${style('s', { minimumFractionDigits: 1, maximumFractionDigits: 1 }).format(percent)} %`),
  };
}

/** Adds decimal texts of one currency, exactly. */
export function add(left: string, right: string): string {
  const decimals = Math.max(decimalsOf(left), decimalsOf(right));
  const sum = toMinor(left, decimals) + toMinor(right, decimals);
  return fromMinor(sum, decimals);
}

export const subtract = (left: string, right: string) => add(left, right.startsWith('-') ? right.slice(1) : `-${right}`);

export const isZero = (amount: string) => !/[1-9]/.test(amount);

const decimalsOf = (amount: string) => amount.split('.')[1]?.length ?? 0;

const toMinor = (amount: string, decimals: number) => {
  const [whole = '0', fraction = ''] = amount.replace('-', '').split('.');
  const minor = BigInt(whole + fraction.padEnd(decimals, '0'));
  return amount.startsWith('-') ? -minor : minor;
};

const fromMinor = (minor: bigint, decimals: number) => {
  const digits = (minor < 0n ? -minor : minor).toString().padStart(decimals + 1, '0');
  const text = decimals === 0 ? digits : `${digits.slice(0, -decimals)}.${digits.slice(-decimals)}`;
  return minor < 0n ? `-${text}` : text;
};

/** Words at the beginning of a sentence. */
export const capital = (words: string) => words.charAt(0).toUpperCase() + words.slice(1);
