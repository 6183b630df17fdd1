import type { Json } from '../api/client';
import { get, type Path, set } from '../shop/document';

// A percentage or an amount as it stands in a text.
const PERCENT = /\d+(?:[.,]\d+)?(?=\s?%)/g;
const AMOUNT = /\d+[.,]\d{2,3}(?!\d)(?!\s?%)/g;

/**
 * The document after a change of one of its figures, with the texts that name the old one naming the new one: 15 % off becomes 20 % off with
 * the number. A text that names several such figures, or another one, stays as it is.
 * @param own the texts that somebody wrote themselves
 */
export function followed(before: Json, after: Json, path: Path, own: ReadonlySet<string>): Json {
  const [old, now] = [figureAt(before, path), figureAt(after, path)];
  if (!now || now.figure <= 0 || (old && old.form !== now.form)) return after;
  let next = after;
  for (const name of ['label', 'name'] as const) {
    const text = next[name];
    if (typeof text !== 'string' || own.has(name)) continue;
    const named = [...text.matchAll(now.form)].filter(
      ([found]) => !old || old.figure <= 0 || Number(found.replace(',', '.')) === old.figure,
    );
    const [only] = named;
    if (!only || named.length > 1) continue;
    const decimals = only[0].split(/[.,]/)[1]?.length ?? 0;
    const written = now.form === PERCENT ? String(now.figure) : now.figure.toFixed(decimals);
    next = set(next, [name], text.slice(0, only.index) + written + text.slice(only.index + only[0].length)) as Json;
  }
  return next;
}

type Figure = { form: RegExp; figure: number };

/** The figure that a path leads to: a percentage, or an amount of the base currency. */
function figureAt(document: Json, path: Path): Figure | undefined {
  const member = path[path.length - 1];
  const value = get(document, path);
  if (member === 'take') {
    const { percent, amount, price } = (value ?? {}) as Json;
    return percent === undefined ? amountOf(amount ?? price) : percentOf(percent);
  }
  return member === 'percent'
    ? percentOf(value)
    : member === 'amount' || member === 'price' || member === 'from'
      ? amountOf(value)
      : undefined;
}

const percentOf = (value: unknown): Figure => ({ form: PERCENT, figure: Number(value) || 0 });

// Steps by the number are no amounts.
const amountOf = (value: unknown): Figure | undefined =>
  typeof value === 'string' ? { form: AMOUNT, figure: Number(value) || 0 } : undefined;
