import { useEffect } from 'react';

/** Something that can be done on the page one is on. */
export type Action = { words: string; detail?: string; run: () => void };

const offering = new Set<() => readonly Action[]>();

/** What the pages that are open offer to do, for the command line. */
export const actionsOffered = () => [...offering].flatMap((offer) => offer());

/** Offers what can be done here, as long as the page is open. */
export function useActions(actions: readonly Action[]) {
  useEffect(() => {
    const offer = () => actions;
    offering.add(offer);
    return () => void offering.delete(offer);
  });
}
