/** A date and time as people type them, read in the shop's own language and time. Local times are written 2027-03-05T18:00. */

import { addMonths, readLocal, writeLocal } from './local';

export type Read = { local: string; other?: string } | { problem: string };

export type About = {
  /** The time on the shop's wall. */
  now: string;
  locale: string;
  /** A day without a time is its first moment, or its last. */
  edge: 'start' | 'end';
  /** When it starts, for ends that are so long after. */
  start?: string;
};

const MINUTE = 60_000;
const DAY = 86_400_000;

const midnight = (moment: number) => Math.floor(moment / DAY) * DAY;
const weekday = (moment: number) => (new Date(moment).getUTCDay() + 6) % 7;

const COUNTS: Record<string, number> = {
  a: 1,
  an: 1,
  one: 1,
  two: 2,
  three: 3,
  four: 4,
  five: 5,
  six: 6,
  seven: 7,
  eight: 8,
  ten: 10,
  twelve: 12,
};
const LENGTHS: Record<string, number> = { minute: MINUTE, hour: 60 * MINUTE, day: DAY, week: 7 * DAY, fortnight: 14 * DAY };

type Names = { months: Map<string, number>; days: Map<string, number> };

const namesByLocale = new Map<string, Names>();

/** The names of months and days, in English and in the shop's language. */
function namesIn(locale: string): Names {
  const known = namesByLocale.get(locale);
  if (known) return known;
  const months = new Map<string, number>();
  const days = new Map<string, number>();
  for (const language of ['en', locale])
    for (const style of ['long', 'short'] as const) {
      const month = new Intl.DateTimeFormat(language, { month: style, timeZone: 'UTC' });
      const day = new Intl.DateTimeFormat(language, { weekday: style, timeZone: 'UTC' });
      const plain = (name: string) => name.toLowerCase().replaceAll('.', '');
      for (let n = 0; n < 12; n += 1) months.set(plain(month.format(Date.UTC(2024, n, 1))), n);
      for (let n = 0; n < 7; n += 1) days.set(plain(day.format(Date.UTC(2024, 0, 1 + n))), n);
    }
  const names = { months, days };
  namesByLocale.set(locale, names);
  return names;
}

/** Whether the shop's language writes the day before the month. */
const dayFirst = (locale: string) => {
  const order = new Intl.DateTimeFormat(locale).formatToParts(0).map((part) => part.type);
  return order.indexOf('day') < order.indexOf('month');
};

export function readWhen(text: string, about: About): Read {
  const now = readLocal(about.now);
  const today = midnight(now);
  const words = text.trim().toLowerCase().replace(/\s+/g, ' ');
  const unknown = { problem: `“${text.trim()}” is not understood. Write 5 March 18:00, Friday, tomorrow 9:00 or 2027-03-05 18:00.` };
  if (words === '') return { problem: 'Write a date, such as 5 March 18:00.' };
  if (words === 'now') return { local: writeLocal(now) };

  if (words === 'this weekend' || words === 'the weekend' || words === 'next weekend') {
    const saturday =
      today + (((5 - weekday(today) + 7) % 7) + (words === 'next weekend' ? 7 : 0)) * DAY - (weekday(today) === 6 ? 7 * DAY : 0);
    return both(saturday, saturday + 2 * DAY, about.edge);
  }
  if (words === 'this week' || words === 'next week') {
    const monday = today - weekday(today) * DAY + (words === 'next week' ? 7 * DAY : 0);
    return both(monday, monday + 7 * DAY, about.edge);
  }

  const span =
    /^(?:for |in )?(\d+|an?|one|two|three|four|five|six|seven|eight|ten|twelve) (minute|hour|day|week|fortnight|month|year)s?$/.exec(words);
  if (span?.[1] && span[2]) {
    const count = COUNTS[span[1]] ?? Number(span[1]);
    const from = words.startsWith('in ') || about.edge === 'start' || !about.start ? now : readLocal(about.start);
    if (span[2] === 'month' || span[2] === 'year') {
      return { local: writeLocal(addMonths(from, count * (span[2] === 'year' ? 12 : 1))) };
    }
    return { local: writeLocal(from + count * (LENGTHS[span[2]] ?? DAY)) };
  }

  // The time of day first, so that what is left is the day.
  let rest = words
    .replace(/,/g, ' ')
    .replace(/\b(at|um|on|am)\b(?=\s|$)/g, (word) => (word === 'am' && /\d\s?am\b/.test(words) ? word : ' '));
  let minutes: number | undefined;
  const named: Record<string, number> = { noon: 720, midnight: 0, mittag: 720, mitternacht: 0 };
  for (const [name, value] of Object.entries(named))
    if (new RegExp(`\\b${name}\\b`).test(rest)) {
      minutes = value;
      rest = rest.replace(new RegExp(`\\b${name}\\b`), ' ');
    }
  const clock =
    /(?:^|[\st])(\d{1,2}):(\d{2})(?::\d{2})?\s?(am|pm|uhr|h)?(?=\s|$)/.exec(rest) ??
    /(?:^|\s)(\d{1,2})\.(\d{2})\s?(am|pm|uhr|h)(?=\s|$)/.exec(rest) ??
    // 18.30 after a day is a time, unless it could be a date that goes with the day: Friday 5.12.
    /(?<=\S\s+)(\d{1,2})\.([0-5]\d)()(?=\s*$)/.exec(/^\p{L}+ \d{1,2}\.(0\d|1[0-2])$/u.test(rest.trim()) ? '' : rest.trim()) ??
    /(?:^|\s)(\d{1,2})()\s?(am|pm|uhr|h)(?=\s|$)/.exec(rest);
  if (clock) {
    let hour = Number(clock[1]);
    const minute = Number(clock[2] || 0);
    if (clock[3] === 'pm' && hour < 12) hour += 12;
    if (clock[3] === 'am' && hour === 12) hour = 0;
    if (hour > 24 || minute > 59 || (hour === 24 && minute > 0))
      return { problem: `${clock[1]}:${clock[2] || '00'} is no time of day. The last one is 24:00.` };
    minutes = hour * 60 + minute;
    rest = rest.replace(clock[0], ' ');
  }

  const day = dayOf(rest.replace(/\s+/g, ' ').trim(), today, about.locale);
  if (typeof day === 'string') return { problem: day };
  if (day === undefined) return unknown;
  if (day === null && minutes === undefined) return unknown;
  // A time alone is that of today, or of the day it starts.
  const base = day ?? (about.edge === 'end' && about.start ? midnight(readLocal(about.start)) : today);
  return { local: writeLocal(base + (minutes ?? (about.edge === 'end' ? 1440 : 0)) * MINUTE) };
}

function both(start: number, end: number, edge: 'start' | 'end'): Read {
  return edge === 'start' ? { local: writeLocal(start), other: writeLocal(end) } : { local: writeLocal(end), other: writeLocal(start) };
}

// The first moment of a day; null: none is said; undefined: not understood; a text: what is wrong with it.
function dayOf(text: string, today: number, locale: string): number | null | undefined | string {
  if (text === '') return null;
  const relative: Record<string, number> = { today: 0, tomorrow: 1, yesterday: -1, heute: 0, morgen: 1, gestern: -1 };
  const off = relative[text];
  if (off !== undefined) return today + off * DAY;
  const { months, days } = namesIn(locale);
  const plain = text.replaceAll('.', ' ').replace(/\s+/g, ' ').trim();

  const named = /^(next |this |kommenden )?(\p{L}+)$/u.exec(plain);
  const wanted = named?.[2] === undefined ? undefined : days.get(named[2]);
  if (wanted !== undefined)
    // The next one of a day is that of the next week, as people mean it who say "this Friday" for the coming one.
    return named?.[1] === 'next ' ? today + (7 - weekday(today) + wanted) * DAY : today + ((wanted - weekday(today) + 7) % 7) * DAY;

  const iso = /^(\d{4})-(\d{1,2})-(\d{1,2})t?$/.exec(text);
  if (iso) return calendar(Number(iso[1]), Number(iso[2]) - 1, Number(iso[3]), text);

  // A weekday before a date is only said along.
  const bare = plain.replace(/^(\p{L}+) (?=.*\d)/u, (all, word: string) => (days.has(word) ? '' : all));
  const written = /^(\d{1,2})(?:st|nd|rd|th)? (\p{L}+)(?: (\d{2,4}))?$/u.exec(bare);
  const writtenBack = /^(\p{L}+) (\d{1,2})(?:st|nd|rd|th)?(?: (\d{4}))?$/u.exec(bare);
  if (written?.[2] !== undefined && months.has(written[2]))
    return dated(Number(written[1]), months.get(written[2]) as number, written[3], today, text);
  if (writtenBack?.[1] !== undefined && months.has(writtenBack[1]))
    return dated(Number(writtenBack[2]), months.get(writtenBack[1]) as number, writtenBack[3], today, text);

  const figures = /^(\d{1,2})[./ -](\d{1,2})(?:[./ -](\d{2,4}))?$/.exec(text.includes('/') || text.includes('-') ? text : bare);
  if (figures) {
    const [first, second] = [Number(figures[1]), Number(figures[2])];
    // Points stand between days and months wherever they do; strokes go by the language.
    const isDayFirst = !text.includes('/') || dayFirst(locale);
    return isDayFirst ? dated(first, second - 1, figures[3], today, text) : dated(second, first - 1, figures[3], today, text);
  }
  return undefined;
}

// Without a year it is the next such day.
function dated(day: number, month: number, year: string | undefined, today: number, text: string): number | string {
  if (year !== undefined) return calendar(Number(year) + (year.length === 2 ? 2000 : 0), month, day, text);
  const this_ = calendar(new Date(today).getUTCFullYear(), month, day, text);
  return typeof this_ === 'number' && this_ < today ? calendar(new Date(today).getUTCFullYear() + 1, month, day, text) : this_;
}

// Years that are counted with; a year that is still being typed is none.
const FIRST_YEAR = 1970;
const LAST_YEAR = 2199;

function calendar(year: number, month: number, day: number, text: string): number | string {
  if (year < FIRST_YEAR || year > LAST_YEAR) return `A year from ${FIRST_YEAR} to ${LAST_YEAR} is meant here: ${text}.`;
  const moment = Date.UTC(year, month, day);
  const read = new Date(moment);
  return read.getUTCMonth() === month && read.getUTCDate() === day ? moment : `There is no such day: ${text}.`;
}

/** A local time in the shop's language; the end of a day is said as its 24:00. */
export function sayWhen(local: string, locale: string, edge: 'start' | 'end'): string {
  const isEndOfDay = edge === 'end' && /T00:00(:00)?$/.test(local);
  const shown = new Date(readLocal(local) - (isEndOfDay ? MINUTE : 0));
  const day = new Intl.DateTimeFormat(locale, { timeZone: 'UTC', weekday: 'short', day: 'numeric', month: 'long', year: 'numeric' }).format(
    shown,
  );
  return `${day}, ${isEndOfDay ? '24:00' : local.slice(11)}`;
}

/** What is understood of a text that is being typed: the moment, and words that let a wrong guess be seen. */
export function reading(
  text: string,
  about: About,
  clocksAt: (local: string) => string | undefined,
): { found?: { local: string; other?: string }; words: string } {
  if (text.trim() === '') return { words: '' };
  const read = readWhen(text, about);
  if ('problem' in read) return { words: `⚠ ${read.problem}` };
  const clocks = clocksAt(read.local);
  return { found: read, words: `${sayInFull(read.local, about)}${clocks ? ` ⚠ ${clocks}` : ''}` };
}

// "Friday 11 December 2026, 00:00, in 11 days"
function sayInFull(local: string, { now, locale, edge }: About): string {
  const isEndOfDay = edge === 'end' && /T00:00(:00)?$/.test(local);
  const shown = readLocal(local) - (isEndOfDay ? MINUTE : 0);
  const day = new Intl.DateTimeFormat(locale, { timeZone: 'UTC', weekday: 'long', day: 'numeric', month: 'long', year: 'numeric' });
  const days = Math.round((midnight(shown) - midnight(readLocal(now))) / DAY);
  const near: Record<string, string> = { '0': 'today', '1': 'tomorrow', '-1': 'yesterday' };
  const far = near[days] ?? (days > 0 ? `in ${days} days` : `${-days} days ago`);
  return `${day.format(shown)}, ${isEndOfDay ? '24:00' : local.slice(11)}, ${far}`;
}
