import { type RefObject, useEffect } from 'react';
import { isTyping } from './keys';

/** The key f goes to the line on which a list is searched, with what stands there marked. */
export function useFindKey(find: RefObject<HTMLInputElement | null>) {
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (event.key !== 'f' || event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
      event.preventDefault();
      find.current?.select();
    };
    window.addEventListener('keydown', listen);
    return () => window.removeEventListener('keydown', listen);
  }, [find]);
}
