import { type InputHTMLAttributes, type ReactNode, type Ref, useId, useState } from 'react';
import { Find } from './Find';

type Props<T> = Omit<InputHTMLAttributes<HTMLInputElement>, 'onChange' | 'children'> & {
  /** What is found by it. */
  label: string;
  value: string;
  onType: (text: string) => void;
  found: T[];
  keyOf: (one: T) => string;
  /** What is seen of one, on one line; what carries data-aside takes it aside. */
  row: (one: T) => ReactNode;
  /** One was pressed, or Enter while it was marked; with Alt, or by what stands aside, it is taken aside. */
  onTake: (one: T, isAside: boolean) => void;
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
  const [at, setAt] = useState(0);
  const list = useId();
  const idOf = (place: number) => `${list}-${place}`;
  const marked = found[at];
  const keys = (event: React.KeyboardEvent<HTMLInputElement>) => {
    if (event.key === 'ArrowDown') setAt(Math.min(at + 1, found.length - 1));
    else if (event.key === 'ArrowUp') setAt(Math.max(at - 1, 0));
    else if (event.key !== 'Enter') return onKeyDown?.(event);
    else if (onDone && value.trim() === '') onDone();
    else if (marked !== undefined) onTake(marked, event.altKey);
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
        onType={(text) => {
          onType(text);
          setAt(0);
        }}
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
              onClick={(event) => onTake(one, (event.target as Element).closest('[data-aside]') !== null)}
            >
              {row(one)}
            </div>
          ))}
        </div>
      </div>
    </>
  );
}
