import { useSyncExternalStore } from 'react';

/** Whether the server answers, as the last request found it, and when it did last. */
export type Reach = { away: boolean; heardAt: number };

let reach: Reach = { away: false, heardAt: Date.now() };
const listeners = new Set<() => void>();

function set(next: Reach) {
  const isTold = next.away !== reach.away;
  reach = next;
  if (isTold) for (const listener of listeners) listener();
}

/** It answered, whatever it said. */
export const heard = () => set({ away: false, heardAt: Date.now() });

/** It did not answer: what is on the screen is from when it last did. */
export const unheard = () => set({ ...reach, away: true });

const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

export const useReach = () => useSyncExternalStore(subscribe, () => reach);
