import type { Json } from '../api/client';
import { type Condition, get, type Path, set } from '../shop/document';

export const GROUPS = ['all', 'any', 'none'] as const;
export type GroupKind = (typeof GROUPS)[number];

export const groupOf = (condition: Condition): GroupKind | undefined => GROUPS.find((kind) => Array.isArray(condition[kind]));

// Stands where a moved condition stood until everything is in place, so that no index shifts on the way.
const GONE = '\u0000gone';

/** Moves a condition into a list of the tree, before the one that stands at an index now. Into itself it does not move. */
export function move(document: Json, from: Path, list: Path, index: number): Json {
  const moved = get(document, from);
  if (moved === undefined || from.every((step, place) => list[place] === step)) return document;
  let next = set(document, from, GONE) as Json;
  const target = [...((get(next, list) as unknown[] | undefined) ?? [])];
  target.splice(index, 0, moved);
  next = set(next, list, target) as Json;
  return { ...next, when: withoutGone(next.when) };
}

/** Moves a condition one step among its like, or out of and into groups: the keys of the desk. */
export function step(document: Json, from: Path, way: 'up' | 'down' | 'out' | 'into'): { document: Json; path: Path } {
  const list = from.slice(0, -1);
  const place = from.at(-1) as number;
  const stay = { document, path: from };
  if (way === 'up') return place === 0 ? stay : { document: move(document, from, list, place - 1), path: [...list, place - 1] };
  if (way === 'down') {
    const count = (get(document, list) as unknown[]).length;
    return place >= count - 1 ? stay : { document: move(document, from, list, place + 2), path: [...list, place + 1] };
  }
  if (way === 'out') {
    if (list.length < 4) return stay;
    const group = list.slice(0, -1);
    const outer = group.slice(0, -1);
    const after = (group.at(-1) as number) + 1;
    return { document: move(document, from, outer, after), path: [...outer, after] };
  }
  const above = place > 0 ? (get(document, [...list, place - 1]) as Condition) : undefined;
  const kind = above && groupOf(above);
  if (!kind) return stay;
  const inner: Path = [...list, place - 1, kind];
  const count = (get(document, inner) as unknown[]).length;
  return { document: move(document, from, inner, count), path: [...inner, count] };
}

function withoutGone(value: unknown): unknown {
  if (Array.isArray(value)) return value.filter((entry) => entry !== GONE).map(withoutGone);
  if (value === null || typeof value !== 'object') return value;
  return Object.fromEntries(Object.entries(value).map(([name, entry]) => [name, withoutGone(entry)]));
}
