import { type RefObject, useCallback, useEffect, useRef, useState } from 'react';
import { answered, api, type Json, type MostAnswer } from '../api/client';
import { pathOf, set } from '../shop/document';
import { useCart } from '../tape/cart';
import { Choice } from '../ui/Choice';

type Props = {
  desk: RefObject<HTMLElement | null>;
  document: Json;
  write: (next: (old: Json) => Json, words?: string) => void;
};

// Of how many items, in percent, the floor has to be kept.
const SHARES = [100, 95, 90];

/** At the number that one is at: the most that it can give while every item, or nearly every, earns the shop's floor, by a press or by Alt M. */
export function MostItCan({ desk, document, write }: Props) {
  const { cart } = useCart();
  const [at, setAt] = useState<{ pointer: string; label: string } | null>(null);
  const [said, setSaid] = useState('');
  const [share, setShare] = useState(100);
  const busy = useRef(false);

  useEffect(() => {
    const element = desk.current;
    if (!element) return;
    const follow = (event: FocusEvent) => {
      const field = event.target as HTMLElement;
      const pointer = field.dataset.at;
      if (pointer !== undefined) {
        setAt({ pointer, label: field.getAttribute('aria-label') ?? 'this' });
        setSaid('');
      } else if (field.tagName === 'INPUT') setAt(null);
    };
    element.addEventListener('focusin', follow);
    return () => element.removeEventListener('focusin', follow);
  }, [desk]);

  const find = useCallback(async () => {
    if (!at || busy.current) return;
    busy.current = true;
    setSaid('looking…');
    try {
      const most = await answered<MostAnswer>(
        api.POST('/api/most', { body: { cart, draft: { ...document, state: 'live' }, at: at.pointer, share } as never }),
      );
      setSaid(most.sentence);
      if (most.value !== null && most.value !== undefined)
        write((old) => set(old, pathOf(at.pointer), most.value) as Json, `the most for ${at.label.toLowerCase()}`);
    } catch (error) {
      setSaid((error as Error).message);
    } finally {
      busy.current = false;
    }
  }, [at, cart, document, write, share]);

  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (!event.altKey || event.code !== 'KeyM') return;
      event.preventDefault();
      find();
    };
    window.addEventListener('keydown', keys);
    return () => window.removeEventListener('keydown', keys);
  }, [find]);

  if (!at) return null;
  return (
    <p className="flex flex-wrap items-baseline gap-x-3 border-t border-rule px-4" data-testid="most">
      <button type="button" className="word shrink-0" title="Alt M" onClick={find}>
        {at.label.toLowerCase()}: the most it can give
      </button>
      <span className="shrink-0">
        while{' '}
        <Choice
          label="Of how many items"
          value={String(share)}
          options={SHARES.map((one) => ({ value: String(one), words: one === 100 ? 'every item' : `${one} % of the items` }))}
          onChange={(chosen) => setShare(Number(chosen))}
        />{' '}
        {share === 100 ? 'keeps' : 'keep'} the floor
      </span>
      <span role="status" className="min-w-0 flex-1">
        {said}
      </span>
    </p>
  );
}
