/** Whether what has the focus takes letters for itself, so that they are no keys of the page. */
export const isTyping = (target: EventTarget | null) =>
  target instanceof HTMLElement && (target.tagName === 'INPUT' || target.tagName === 'TEXTAREA' || target.isContentEditable);
