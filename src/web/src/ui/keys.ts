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
