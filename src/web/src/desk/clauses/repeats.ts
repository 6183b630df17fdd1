/** A repeating window as people say it: each day, some days of each week, or a day of each month. Anything else is a rule (RFC 5545). */

import { readLocal, writeLocal } from '../../ui/local';
export type Repeat =
  | { kind: 'never' }
  | { kind: 'daily' }
  | { kind: 'weekly'; days: string[] }
  | { kind: 'monthly'; nth: number; day: string }
  | { kind: 'monthDay'; of: number }
  | { kind: 'rule'; text: string };

export const DAYS = ['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'];

export function readRepeat(rule: string | undefined): Repeat {
  if (rule === undefined) return { kind: 'never' };
  if (rule === 'FREQ=DAILY') return { kind: 'daily' };
  const weekly = /^FREQ=WEEKLY;BYDAY=((?:MO|TU|WE|TH|FR|SA|SU)(?:,(?:MO|TU|WE|TH|FR|SA|SU))*)$/.exec(rule);
  if (weekly?.[1]) return { kind: 'weekly', days: weekly[1].split(',') };
  const monthly = /^FREQ=MONTHLY;BYDAY=([1-4]|-1)(MO|TU|WE|TH|FR|SA|SU)$/.exec(rule);
  if (monthly?.[1] && monthly[2]) return { kind: 'monthly', nth: Number(monthly[1]), day: monthly[2] };
  const monthDay = /^FREQ=MONTHLY;BYMONTHDAY=(\d{1,2}|-1)$/.exec(rule);
  if (monthDay?.[1]) return { kind: 'monthDay', of: Number(monthDay[1]) };
  return { kind: 'rule', text: rule };
}

export function writeRepeat(repeat: Repeat): string | undefined {
  switch (repeat.kind) {
    case 'never':
      return undefined;
    case 'daily':
      return 'FREQ=DAILY';
    case 'weekly':
      return `FREQ=WEEKLY;BYDAY=${DAYS.filter((day) => repeat.days.includes(day)).join(',')}`;
    case 'monthly':
      return `FREQ=MONTHLY;BYDAY=${repeat.nth}${repeat.day}`;
    case 'monthDay':
      return `FREQ=MONTHLY;BYMONTHDAY=${repeat.of}`;
    default:
      return repeat.text;
  }
}

const DAY = 86_400_000;
const dayOf = (at: number) => DAYS[(new Date(at).getUTCDay() + 6) % 7] as string;
const lengthOfMonth = (at: number) => new Date(Date.UTC(new Date(at).getUTCFullYear(), new Date(at).getUTCMonth() + 1, 0)).getUTCDate();

/** The first local time from one on at which it comes: a window that repeats begins with one of its times. */
export function firstFrom(repeat: Repeat, local: string): string {
  const hits = (at: number) => {
    const date = new Date(at).getUTCDate();
    switch (repeat.kind) {
      case 'weekly':
        return repeat.days.includes(dayOf(at));
      case 'monthly':
        if (dayOf(at) !== repeat.day) return false;
        return repeat.nth > 0 ? Math.ceil(date / 7) === repeat.nth : date + 7 > lengthOfMonth(at);
      case 'monthDay':
        return repeat.of > 0 ? date === repeat.of : date === lengthOfMonth(at);
      default:
        return true;
    }
  };
  for (let at = readLocal(local), tries = 0; tries < 800; at += DAY, tries += 1) if (hits(at)) return writeLocal(at);
  return local;
}

/** How long it lasts each time, in one unit. Anything else stays as it is. */
export function readLasts(text: string): { number: string; unit: 'minutes' | 'hours' | 'days' } | null {
  const hours = /^PT(\d+)H$/.exec(text);
  if (hours?.[1]) return { number: hours[1], unit: 'hours' };
  const minutes = /^PT(\d+)M$/.exec(text);
  if (minutes?.[1]) return { number: minutes[1], unit: 'minutes' };
  const days = /^P(\d+)D$/.exec(text);
  return days?.[1] ? { number: days[1], unit: 'days' } : null;
}

export const writeLasts = (number: string, unit: string) =>
  unit === 'days' ? `P${number}D` : `PT${number}${unit === 'hours' ? 'H' : 'M'}`;
