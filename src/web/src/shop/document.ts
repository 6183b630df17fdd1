import type { Json, Problem } from '../api/client';
import type { components, MemberName } from '../api/promotion';
import { toText } from '../ui/numbers';
import { isSame } from '../ui/same';

export type Promotion = components['schemas']['promotion'];
export type Reward = components['schemas']['reward'];
export type WrittenCondition = components['schemas']['condition'];

/** A name that the document itself gives: of a language, of a currency. */
export type GivenName = string & { readonly given: true };

export const given = (name: string) => name as GivenName;

/** The way to a value in a document: a member that no promotion has does not compile. */
export type Path = (MemberName | GivenName | number)[];

export const pointerOf = (path: Path) => path.map((step) => `/${String(step).replaceAll('~', '~0').replaceAll('/', '~1')}`).join('');

export function get(document: unknown, path: Path): unknown {
  let value = document;
  for (const step of path) {
    if (value === null || typeof value !== 'object') return undefined;
    value = (value as Record<string | number, unknown>)[step];
  }
  return value;
}

/** The document with a value at a place; undefined takes the place out. Nothing else is touched. */
export function set(document: unknown, path: Path, value: unknown): unknown {
  const [step, ...rest] = path;
  if (step === undefined) return value;
  const inner = set(get(document, [step]), rest, value);
  if (typeof step === 'number') {
    const list = Array.isArray(document) ? [...document] : [];
    if (inner === undefined) list.splice(step, 1);
    else list[step] = inner;
    return list;
  }
  const object: Json = { ...((document ?? {}) as Json) };
  if (inner === undefined) delete object[step];
  else object[step] = inner;
  return object;
}

export const problemsUnder = (problems: Problem[], pointer: string) =>
  problems.filter((problem) => problem.at === pointer || problem.at.startsWith(`${pointer}/`));

/** What the clauses share: the document, its problems, and how to change it. */
export type Draft = {
  document: Json;
  problems: Problem[];
  change: (path: Path, value: unknown) => void;
};

export type Condition = Json;

/** The parts of the condition tree that stand at its top, whatever form it has. */
export function topConditions(document: Json): Condition[] {
  const when = document.when as Json | undefined;
  if (!when) return [];
  return Array.isArray(when.all) ? (when.all as Condition[]) : [when];
}

/** Whether a condition says who, where or how, not what the cart holds. */
export function isAboutWhom(condition: Condition): boolean {
  const [kind] = Object.keys(condition);
  if (kind === 'none' || kind === 'any') {
    const parts = condition[kind];
    return Array.isArray(parts) && parts.length > 0 && parts.every((part) => isAboutWhom(part as Condition));
  }
  return kind === 'shopper' || kind === 'destination' || kind === 'channel' || kind === 'currency' || kind === 'method';
}

/** Whether two documents say the same rule, in whatever state. */
export const isSameRule = (one: Json, other: Json | null) => other !== null && isSame({ ...one, state: null }, { ...other, state: null });

/** The way to what a JSON pointer names. */
export const pathOf = (pointer: string): Path =>
  pointer
    .split('/')
    .slice(1)
    .map((step) => (/^\d+$/.test(step) ? Number(step) : given(step.replaceAll('~1', '/').replaceAll('~0', '~'))));

/** A text, or the first of its texts by language. */
export const textOf = (value: unknown): string =>
  typeof value === 'string' ? value : typeof value === 'object' && value !== null ? String(Object.values(value)[0] ?? '') : '';

/** What a promotion is called, whatever of it is written. */
export const titleOf = (document: Json): string => toText(document.name) || textOf(document.label) || 'a promotion';

/** Where that text stands. */
export const pathOfText = (value: unknown, path: Path): Path => {
  const [first] = typeof value === 'object' && value !== null ? Object.keys(value) : [];
  return first === undefined ? path : [...path, given(first)];
};
