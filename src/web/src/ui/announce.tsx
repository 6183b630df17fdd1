import { useSyncExternalStore } from 'react';

let said = '';
const listeners = new Set<() => void>();

/** Tells what was done to whoever cannot see it. */
export function announce(words: string) {
  // The same again is told again.
  said = said === words ? `${words}\u200b` : words;
  for (const listener of listeners) listener();
}

const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

/** What was done last, for screen readers. */
export function Announced() {
  const words = useSyncExternalStore(subscribe, () => said);
  return (
    <p role="status" className="sr-only" data-testid="announced">
      {words}
    </p>
  );
}
