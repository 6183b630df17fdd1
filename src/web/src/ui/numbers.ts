/** A number as typed, with a comma or a point: the number, or the text if it is not one. */
export function toNumber(text: string): number | string | undefined {
  const trimmed = text.trim().replace(',', '.');
  if (trimmed === '') return undefined;
  return /^\d{1,12}(\.\d{1,8})?$/.test(trimmed) ? Number(trimmed) : text;
}

/** An amount as typed: with a point, as it stands in files; anything else stays as typed. */
export function toAmount(text: string): string | undefined {
  const trimmed = text.trim();
  if (trimmed === '') return undefined;
  return /^\d+,\d+$/.test(trimmed) ? trimmed.replace(',', '.') : trimmed;
}

/** What stands in a document, as the text of a field. */
export const toText = (value: unknown): string =>
  value === undefined || value === null ? '' : typeof value === 'object' ? '' : String(value);
