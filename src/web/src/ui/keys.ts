import type { KeyboardEvent } from 'react';

/**
 * Whether what has the focus takes letters for itself, so that they are no keys of the page: a field, a list of words that is open, and a
 * part of a rule, where whoever goes on typing means the rule.
 */
export const isTyping = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (target.tagName === 'INPUT' ||
    target.tagName === 'TEXTAREA' ||
    target.isContentEditable ||
    target.closest('[role=menu], [role=listbox]') !== null ||
    target.matches('[data-clause] :is([aria-haspopup], [role=combobox])'));

/** Of a list: the arrows, and j and k, go from row to row. */
export const rowKeys = (walk: (by: number, list: HTMLElement) => void) => (event: KeyboardEvent<HTMLElement>) => {
  if (isTyping(event.target) || event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.key === 'ArrowDown' || event.key === 'j') walk(1, event.currentTarget);
  else if (event.key === 'ArrowUp' || event.key === 'k') walk(-1, event.currentTarget);
  else return;
  event.preventDefault();
};
