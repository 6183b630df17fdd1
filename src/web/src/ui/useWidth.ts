import { type RefObject, useEffect, useState } from 'react';

/** How wide an element is, as it is now; before it is drawn, as wide as is usual. */
export function useWidth(element: RefObject<HTMLElement | null>, usual: number, least = 240): number {
  const [width, setWidth] = useState(usual);
  useEffect(() => {
    const watched = element.current;
    if (!watched) return;
    const watch = new ResizeObserver(() => setWidth(Math.max(least, watched.clientWidth)));
    watch.observe(watched);
    return () => watch.disconnect();
  }, [element, least]);
  return width;
}
