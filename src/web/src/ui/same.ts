import { useRef } from 'react';

type Named = Record<string, unknown>;

/** Whether two documents say the same, in whatever order their members stand. */
export function isSame(left: unknown, right: unknown): boolean {
  if (left === right) return true;
  if (typeof left !== 'object' || typeof right !== 'object' || left === null || right === null) return false;
  if (Array.isArray(left) !== Array.isArray(right)) return false;
  const names = Object.keys(left);
  if (names.length !== Object.keys(right).length) return false;
  return names.every((name) => name in right && isSame((left as Named)[name], (right as Named)[name]));
}

/** The value that was there before, as long as the new one says the same: what depends on it is not drawn again. */
export function useSame<Value>(value: Value): Value {
  const kept = useRef(value);
  if (!isSame(kept.current, value)) kept.current = value;
  return kept.current;
}
