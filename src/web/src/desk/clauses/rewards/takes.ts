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

/** The same the other way round; of amounts by currency that of the base currency, else the first. */
export function sayTake(take: Json | undefined, base = ''): string {
  if (!take) return '';
  if ('percent' in take) return take.percent === 100 ? 'free' : `${toText(take.percent)} %`;
  const amount = (value: unknown) =>
    value !== null && typeof value === 'object' ? toText((value as Json)[base] ?? Object.values(value)[0]) : toText(value);
  return 'price' in take ? `for ${amount(take.price)}` : `${amount(take.amount)} off`;
}

/** By which amount a take brings a price down, if by one. */
export const amountIn = (take: Json | undefined): 'amount' | 'price' | undefined =>
  take && 'amount' in take ? 'amount' : take && 'price' in take ? 'price' : undefined;

type About = {
  /** What stands there, and what did before one began to type. */
  now: Json | undefined;
  before: Json | undefined;
  others: (Json | undefined)[];
  /** The shop's currency. */
  base: string;
};

/**
 * A take as it is typed into a table. A number alone is of the kind that stands there, if that can be read, else of that from before one
 * began to type; amounts in other currencies stay.
 */
export function takeTyped(text: string, { now, before, others, base }: About): Json | undefined {
  const figure = now && (now.percent ?? now.amount ?? now.price);
  const isRead = typeof figure === 'number' || (typeof figure === 'object' && figure !== null) || digitsOf(toText(figure)) !== null;
  const take = readTake(text, isRead ? now : before, others);
  const kind = amountIn(take);
  const old = kind && before?.[kind];
  return take && kind && typeof old === 'object' && old !== null ? { [kind]: { ...old, [base]: take[kind] } } : take;
}

export const without = (reward: Json, ...members: string[]): Json =>
  Object.fromEntries(Object.entries(reward).filter(([member, value]) => !members.includes(member) && value !== undefined));
