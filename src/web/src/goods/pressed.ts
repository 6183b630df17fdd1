import { useSyncExternalStore } from 'react';

let pressed: string | null = null;
const listeners = new Set<() => void>();

/** Says which item is looked at on the right page. */
export function press(sku: string | null) {
  pressed = sku;
  for (const listener of listeners) listener();
}

const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

/** The SKU of the item that was pressed last; none: none was. */
export const usePressed = () => useSyncExternalStore(subscribe, () => pressed);
