import type { Json } from '../../../api/client';
import { digitsOf, toText } from '../../../ui/numbers';

/**
 * A take as people type it: "10 %", "5.00 off", "for 12.00", "free". Nothing: no take. What is none stays as it was typed.
 * A number alone is a take of the kind that stood there before, else of the kind of the others; with none, a percentage.
 */
export function readTake(text: string, before?: Json, others: (Json | undefined)[] = []): Json | undefined {
  const words = text.trim().toLowerCase();
  if (words === '') return undefined;
  if (words === 'free') return { percent: 100 };
  const price = /^(?:=|for|to|at)\s*(.+)$/.exec(words);
  if (price?.[1]) return { price: digitsOf(price[1]) ?? price[1] };
  const bare = words.replace(/\s*off$/, '');
  const digits = digitsOf(bare);
  if (digits !== null && /^[\d.,\s-]+$/.test(words)) {
    const like = before ?? others.findLast((other) => other !== undefined) ?? { percent: 0 };
    if ('price' in like) return { price: digits };
    if (!('amount' in like)) return { percent: Number(digits) };
  }
  if (bare.endsWith('%')) return { percent: digits === null ? text : Number(digits) };
  return { amount: digits ?? text };
}

/** The same the other way round; amounts by currency by the first of them. */
export function sayTake(take: Json | undefined): string {
  if (!take) return '';
  if ('percent' in take) return take.percent === 100 ? 'free' : `${toText(take.percent)} %`;
  const amount = (value: unknown) => (value !== null && typeof value === 'object' ? toText(Object.values(value)[0]) : toText(value));
  return 'price' in take ? `for ${amount(take.price)}` : `${amount(take.amount)} off`;
}

export const without = (reward: Json, ...members: string[]): Json =>
  Object.fromEntries(Object.entries(reward).filter(([member, value]) => !members.includes(member) && value !== undefined));
