import { useState } from 'react';
import { Popup } from './Popup';

type Option = { value: string; words: string };
type Props = {
  label: string;
  values: string[];
  options: Option[];
  onChange: (values: string[]) => void;
  /** Between the words: "or". */
  joint?: string;
  /** What stands where none is ticked. */
  empty?: string;
  /** None may be ticked. */
  orNone?: boolean;
  /** Words that are not in the list may be typed. */
  free?: boolean;
};

/** Some of a list of words, ticked in a small editor. */
export function Ticks({ label, values, options, onChange, joint = 'or', empty = 'choose', orNone = false, free = false }: Props) {
  const [typed, setTyped] = useState('');
  const known = [
    ...options,
    ...values.filter((value) => !options.some((option) => option.value === value)).map((value) => ({ value, words: value })),
  ];
  const wordsOf = (value: string) => known.find((option) => option.value === value)?.words ?? value;
  const shown = known.filter((option) => option.words.toLowerCase().includes(typed.toLowerCase()));
  const toggle = (value: string) => onChange(values.includes(value) ? values.filter((other) => other !== value) : [...values, value]);
  return (
    <Popup label={label} words={values.length === 0 ? empty : join(values.map(wordsOf), joint)} wanting={values.length === 0 && !orNone}>
      {(close) => (
        <div>
          <input
            className="mb-2 w-full border-b border-rule bg-transparent px-1"
            placeholder={free ? 'type to find, or a new word' : 'type to find'}
            aria-label={`Find in ${label}`}
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
            onKeyDown={(event) => {
              if (event.key !== 'Enter') return;
              event.preventDefault();
              const found = shown[0]?.value ?? (free ? typed.trim() : '');
              if (typed.trim() !== '' && found) {
                toggle(found);
                setTyped('');
              } else close();
            }}
          />
          {shown.map((option) => (
            <label key={option.value} className="flex items-center gap-2 px-1 py-0.5 odd:bg-band hover:bg-press">
              <input
                type="checkbox"
                className="accent-[var(--stamp)]"
                checked={values.includes(option.value)}
                onChange={() => toggle(option.value)}
              />
              {option.words}
            </label>
          ))}
          {shown.length === 0 && (
            <p className="text-faded">{free && typed.trim() ? `Enter adds “${typed.trim()}”.` : 'Nothing of that name.'}</p>
          )}
        </div>
      )}
    </Popup>
  );
}

export const join = (words: string[], joint: string) =>
  words.length < 2 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} ${joint} ${words[words.length - 1]}`;
