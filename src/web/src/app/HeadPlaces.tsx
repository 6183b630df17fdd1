import { type ReactNode, useEffect, useState } from 'react';
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
  const waiting = useKeysToPlaces(go);
  const shown = waiting === null || waiting === 'group' ? here : waiting;
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
                  {waiting === group ? <Keyed words={place.head?.name ?? ''} letter={place.head?.letter ?? ''} /> : place.head?.name}
                </InHead>
              ))}
            </span>
          ) : (
            <Menu
              key={group}
              label="Go to"
              words={group}
              className={`head-word mx-2 ${waiting === 'group' ? 'underline' : ''}`}
              items={items(group)}
            />
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

/** g, then the first letter of a group, then the letter of one of its places: what is waited for, if anything is. */
function useKeysToPlaces(go: (path: string) => void) {
  const [waiting, setWaiting] = useState<'group' | Group | null>(null);
  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
      if (waiting === null && event.key !== 'g') return;
      // No other key of the page takes it.
      event.preventDefault();
      event.stopImmediatePropagation();
      if (waiting === null) return setWaiting('group');
      if (waiting === 'group') return setWaiting(GROUPS.find((group) => group[0] === event.key) ?? null);
      const place = placesOf(waiting).find((one) => one.head?.letter === event.key);
      setWaiting(null);
      if (place) go(place.path);
    };
    window.addEventListener('keydown', keys, true);
    const timer = waiting === null ? undefined : window.setTimeout(() => setWaiting(null), PATIENCE);
    return () => {
      window.removeEventListener('keydown', keys, true);
      window.clearTimeout(timer);
    };
  }, [go, waiting]);
  return waiting;
}
