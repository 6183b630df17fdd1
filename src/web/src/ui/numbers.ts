// The sign before decimals in the shop's language; the other one groups thousands.
let decimal = '.';

/** Numbers are read as the shop's language writes them from here on. */
export function readNumbersIn(locale: string) {
  decimal = new Intl.NumberFormat(locale).formatToParts(1.5).find((part) => part.type === 'decimal')?.value === ',' ? ',' : '.';
}

/** A number as people type it, "1,234.50", "10 %", "€50", "−5", as digits and a point; null: it is none. */
export function digitsOf(text: string): string | null {
  const bare = text
    .trim()
    .replace(/[\s\u00a0\u202f'’]/g, '')
    .replace(/^[−–]/, '-')
    .replace(/^(-?)(?:\p{Sc}|[A-Z]{3})/u, '$1')
    .replace(/(?:%|\p{Sc}|[A-Z]{3}|,-+)$/u, '');
  if (!/^-?\d[\d.,]*$/.test(bare)) return null;
  const signs = [...bare.replace(/[^.,]/g, '')];
  const last = signs.at(-1);
  if (last === undefined) return bare;
  const after = bare.length - bare.lastIndexOf(last) - 1;
  const isMixed = signs.includes('.') && signs.includes(',');
  const isOnce = signs.filter((sign) => sign === last).length === 1;
  // Both signs: the last is the decimals'. One sign alone: it groups if it could and the language says so.
  const groups = !isMixed && after === 3 && (last !== decimal || !isOnce) && /^-?\d{1,3}([.,]\d{3})+$/.test(bare);
  if (!isOnce && !groups) return null;
  if (groups) return bare.replace(/[.,]/g, '');
  if (isMixed && !/^-?\d{1,3}(?:[.,]\d{3})*[.,]\d*$/.test(bare)) return null;
  return bare
    .slice(0, bare.lastIndexOf(last))
    .replace(/[.,]/g, '')
    .concat(after > 0 ? `.${bare.slice(-after)}` : '');
}

/** A number as typed: the number, or the text if it is not one. */
export function toNumber(text: string): number | string | undefined {
  if (text.trim() === '') return undefined;
  const digits = digitsOf(text);
  return digits !== null && /^-?\d{1,12}(\.\d{1,8})?$/.test(digits) ? Number(digits) : text;
}

/** An amount as typed: with a point, as it stands in files; anything else stays as typed. */
export function toAmount(text: string): string | undefined {
  const trimmed = text.trim();
  return trimmed === '' ? undefined : (digitsOf(trimmed) ?? trimmed);
}

/** What stands in a document, as the text of a field. */
export const toText = (value: unknown): string =>
  value === undefined || value === null ? '' : typeof value === 'object' ? '' : String(value);
