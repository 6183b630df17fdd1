import { type InputHTMLAttributes, type ReactNode, type Ref, useId, useState } from 'react';
import { Find } from './Find';

/** How one is taken: aside with Alt, or by what stands there for it; by a key or by a press. */
type How = { isAside: boolean; isKey: boolean };

type Props<T> = Omit<InputHTMLAttributes<HTMLInputElement>, 'onChange' | 'children'> & {
  /** What is found by it. */
  label: string;
  value: string;
  onType: (text: string) => void;
  found: T[];
  keyOf: (one: T) => string;
  /** What is seen of one, on one line; what carries data-aside takes it aside. */
  row: (one: T) => ReactNode;
  /** One was pressed, or Enter while it was marked. */
  onTake: (one: T, how: How) => void;
  /** Enter in the empty field; without it the marked one is taken then too. */
  onDone?: () => void;
  /** Below the field. */
  note?: ReactNode;
  /** Said where nothing is found. */
  none?: string;
  listClass?: string;
  ref?: Ref<HTMLInputElement>;
};

/** A field to find one of many by, and what it found: the arrow keys mark one, Enter or a press takes it. */
export function Finder<T>({
  label,
  value,
  onType,
  found,
  keyOf,
  row,
  onTake,
  onDone,
  note,
  none,
  listClass = 'max-h-56 overflow-y-auto',
  onKeyDown,
  className = 'w-full px-1',
  ...rest
}: Props<T>) {
  // Whatever else is looked for, by whomever it was put there, begins at the first again.
  const [mark, setMark] = useState({ at: 0, of: value });
  const at = mark.of === value ? mark.at : 0;
  const setAt = (place: number) => setMark({ at: place, of: value });
  const list = useId();
  const idOf = (place: number) => `${list}-${place}`;
  const marked = found[at];
  const keys = (event: React.KeyboardEvent<HTMLInputElement>) => {
    if (event.key === 'ArrowDown') setAt(Math.max(Math.min(at + 1, found.length - 1), 0));
    else if (event.key === 'ArrowUp') setAt(Math.max(at - 1, 0));
    else if (event.key !== 'Enter') return onKeyDown?.(event);
    else if (onDone && value.trim() === '') onDone();
    else if (marked !== undefined) onTake(marked, { isAside: event.altKey, isKey: true });
    event.preventDefault();
  };
  return (
    <>
      <Find
        {...rest}
        className={className}
        label={label}
        role="combobox"
        aria-expanded={found.length > 0}
        aria-controls={list}
        aria-activedescendant={marked === undefined ? undefined : idOf(at)}
        value={value}
        onType={onType}
        onKeyDown={keys}
      />
      {note}
      <div className={listClass}>
        {found.length === 0 && none && <p className="px-2 py-1 text-faded">{none}</p>}
        <div id={list} role="listbox" aria-label={`${label}: found`}>
          {found.map((one, place) => (
            // biome-ignore lint/a11y/useKeyWithClickEvents: the field has the keys
            <div
              key={keyOf(one)}
              id={idOf(place)}
              role="option"
              tabIndex={-1}
              aria-selected={place === at}
              className={`flex cursor-pointer items-baseline gap-2 px-1 ${place === at ? 'bg-press' : place % 2 ? '' : 'bg-band'}`}
              onMouseEnter={() => setAt(place)}
              onClick={(event) => onTake(one, { isAside: (event.target as Element).closest('[data-aside]') !== null, isKey: false })}
            >
              {row(one)}
            </div>
          ))}
        </div>
      </div>
    </>
  );
}
