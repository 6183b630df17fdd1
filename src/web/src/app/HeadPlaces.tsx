import { type ReactNode, useEffect, useRef, useState } from 'react';
import { Link, useLocation } from 'wouter';
import { isTyping } from '../ui/keys';
import { Menu } from '../ui/Menu';
import { GROUPS, type Group, groupOf, PLACES, type Place, usePlace } from './places';

// So long a second key is waited for.
const PATIENCE = 3000;

const placesOf = (group: Group) => PLACES.filter((place) => place.head?.group === group);

/**
 * The places as words: those of the group one is in, and the words of the other groups, which open them. By keys: g, the letter that is
 * underlined in the group's word, the letter that is underlined in the place's.
 */
export function HeadPlaces() {
  const [path, go] = useLocation();
  const here = groupOf(usePlace());
  const { asked, open } = useKeysToPlaces(go);
  const shown = open ?? here;
  const items = (group: Group) => placesOf(group).map((place) => ({ words: place.head?.name ?? '', onSelect: () => go(place.path) }));
  return (
    <>
      <nav aria-label="Places" className="flex items-baseline gap-2 max-[899px]:hidden">
        {GROUPS.map((group) =>
          group === shown ? (
            <span key={group} className="flex items-baseline gap-2">
              <span className="head-word">{group}</span>
              {placesOf(group).map((place) => (
                <InHead key={place.path} place={place} path={path}>
                  {open === group ? <Keyed words={place.head?.name ?? ''} letter={place.head?.letter ?? ''} /> : place.head?.name}
                </InHead>
              ))}
            </span>
          ) : (
            <Menu key={group} label="Go to" words={group} className={`head-word mx-2 ${asked ? 'underline' : ''}`} items={items(group)} />
          ),
        )}
      </nav>
      <span className="min-[900px]:hidden">
        <Menu label="Go to" words={placeName(path)} className="part" items={GROUPS.flatMap(items)} />
      </span>
    </>
  );
}

const placeName = (path: string) => PLACES.find((place) => place.head && path.startsWith(place.path))?.head?.name ?? 'places';

function InHead({ place, path, children }: { place: Place; path: string; children: ReactNode }) {
  return (
    <Link
      href={place.path}
      aria-current={path.startsWith(place.path) ? 'page' : undefined}
      className="aria-[current]:border-b-2 aria-[current]:border-ink aria-[current]:font-medium"
    >
      {children}
    </Link>
  );
}

/** A word with the letter underlined that leads to it. */
function Keyed({ words, letter }: { words: string; letter: string }) {
  const at = words.toLowerCase().indexOf(letter);
  return (
    <>
      {words.slice(0, at)}
      <u>{words[at]}</u>
      {words.slice(at + 1)}
    </>
  );
}

/** g, then the first letter of a group, then the letter of one of its places. */
function useKeysToPlaces(go: (path: string) => void) {
  const [asked, setAsked] = useState(false);
  const [open, setOpen] = useState<Group | null>(null);
  const state = useRef<{ asked: boolean; open: Group | null; until: number }>({ asked: false, open: null, until: 0 });
  useEffect(() => {
    const set = (nextAsked: boolean, nextOpen: Group | null) => {
      state.current = { asked: nextAsked, open: nextOpen, until: Date.now() + PATIENCE };
      setAsked(nextAsked);
      setOpen(nextOpen);
    };
    const keys = (event: KeyboardEvent) => {
      const now = state.current;
      if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
      if ((now.asked || now.open) && Date.now() < now.until) {
        const group = now.open ? null : GROUPS.find((one) => one[0] === event.key);
        const place = now.open ? placesOf(now.open).find((one) => one.head?.letter === event.key) : null;
        // No other key of the page takes it.
        event.preventDefault();
        event.stopImmediatePropagation();
        set(false, group ?? null);
        if (place) go(place.path);
        return;
      }
      if (event.key !== 'g') return;
      event.stopImmediatePropagation();
      set(true, null);
    };
    window.addEventListener('keydown', keys, true);
    return () => window.removeEventListener('keydown', keys, true);
  }, [go]);
  useEffect(() => {
    if (!asked && !open) return;
    const timer = window.setTimeout(() => {
      setAsked(false);
      setOpen(null);
    }, PATIENCE);
    return () => window.clearTimeout(timer);
  }, [asked, open]);
  return { asked, open };
}
