import { type KeyboardEvent, useState } from 'react';

/** A place in a list of so many, which the arrow keys move. `walk` says whether a key was one of them. */
export function useWalk(count: number) {
  const [at, setAt] = useState(0);
  const walk = (event: KeyboardEvent) => {
    if (event.key === 'ArrowDown') setAt(Math.min(at + 1, count - 1));
    else if (event.key === 'ArrowUp') setAt(Math.max(at - 1, 0));
    else return false;
    event.preventDefault();
    return true;
  };
  return { at, setAt, walk };
}
