import { useState } from 'react';
import { Popup } from './Popup';
import { readWhen, sayWhen } from './when';

type Props = {
  label: string;
  /** What the part says. */
  words: string;
  value: string | undefined;
  edge: 'start' | 'end';
  locale: string;
  zone: string;
  /** The time on the shop's wall. */
  now: string;
  start?: string;
  /** What it is without a date. */
  empty: string;
  wanting?: boolean;
  examples: string[];
  /** `other`: the other edge, where the words say both. */
  onChange: (local: string | undefined, other?: string) => void;
};

/** A moment that is typed as people say it; what was understood stands below, and Enter takes it. */
export function WhenPopup(props: Props) {
  return (
    <Popup label={props.label} words={props.words} width={320} wanting={props.wanting}>
      {(close) => <WhenForm {...props} close={close} />}
    </Popup>
  );
}

function WhenForm({ label, value, edge, locale, zone, now, start, empty, examples, onChange, close }: Props & { close: () => void }) {
  const [text, setText] = useState(value ? sayWhen(value, locale, edge) : '');
  const [typed, setTyped] = useState(false);
  const read = typed && text.trim() !== '' ? readWhen(text, { now, locale, edge, start }) : null;
  const take = (words: string) => {
    const found = readWhen(words, { now, locale, edge, start });
    if ('problem' in found) return false;
    onChange(found.local, found.other);
    return true;
  };
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        if (!read || !('problem' in read)) close();
      }}
    >
      <label className="block">
        {label}, in {zone} time
        <input
          autoFocus
          className="mt-1 block w-full border-b border-ink bg-transparent px-1 py-0.5"
          placeholder="5 March 18:00"
          autoComplete="off"
          value={text}
          aria-invalid={read !== null && 'problem' in read}
          onFocus={(event) => event.target.select()}
          onChange={(event) => {
            setText(event.target.value);
            setTyped(true);
            take(event.target.value);
          }}
        />
      </label>
      <p className={`mt-1 min-h-5 ${read && 'problem' in read ? 'text-doubt' : 'text-faded'}`} role="status">
        {read === null
          ? 'A date, a day, a time; Enter takes it.'
          : 'problem' in read
            ? `⚠ ${read.problem}`
            : sayWhen(read.local, locale, edge)}
      </p>
      <p className="mt-1 flex flex-wrap gap-x-3">
        {examples.map((words) => (
          <button
            key={words}
            type="button"
            className="word"
            onClick={() => {
              take(words);
              close();
            }}
          >
            {words}
          </button>
        ))}
        <button
          type="button"
          className="word"
          onClick={() => {
            onChange(undefined);
            close();
          }}
        >
          {empty}
        </button>
      </p>
    </form>
  );
}
