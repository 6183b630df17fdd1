/** Local times as documents hold them: 2027-03-05T18:00, with or without seconds. Reckoned with as moments of a wall without a zone. */

const FORM = /^\d{4}-\d\d-\d\dT\d\d:\d\d(:\d\d(\.\d+)?)?$/;

/** A local time as a moment; not a number: it is none. */
export function readLocal(text: string): number {
  if (!FORM.test(text)) return Number.NaN;
  return Date.parse(text.length === 16 ? `${text}:00Z` : `${text}Z`);
}

/** A moment as a local time, with seconds only where it has some. */
export function writeLocal(moment: number): string {
  const text = new Date(moment).toISOString().replace('Z', '');
  return text.replace(/(:\d\d)(\.\d+)?$/, (all, seconds) => (all === ':00.000' ? '' : all.endsWith('.000') ? seconds : all));
}

/** Whether a text is a local time. */
export const isLocal = (text: string) => !Number.isNaN(readLocal(text));

/** So many months on, or the last day of that month where it has no such day. */
export function addMonths(moment: number, months: number): number {
  const from = new Date(moment);
  const to = new Date(moment);
  to.setUTCDate(1);
  to.setUTCMonth(to.getUTCMonth() + months);
  const last = new Date(Date.UTC(to.getUTCFullYear(), to.getUTCMonth() + 1, 0)).getUTCDate();
  to.setUTCDate(Math.min(from.getUTCDate(), last));
  return to.getTime();
}
