import { useRef, useState } from 'react';
import { Popup } from './Popup';
import { type About, reading, readWhen, sayWhen } from './when';

type Props = About & {
  label: string;
  /** What the part says. */
  words: string;
  value: string | undefined;
  zone: string;
  /** What a change of the clocks does to a local time. */
  clocksAt: (local: string) => string | undefined;
  /** What it is without a date. */
  empty: string;
  wanting?: boolean;
  examples: string[];
  /** `other`: the other edge, where the words say both. */
  onChange: (local: string | undefined, other?: string) => void;
  /** Called when the editor opens: what it gives puts back what stood there. */
  keep: () => () => void;
};

/**
 * A moment that is typed as people say it; what was understood stands below, and Enter takes it. What cannot be read whole changes nothing:
 * then, and on Escape, stands what stood there.
 */
export function WhenPopup(props: Props) {
  const putBack = useRef<() => void>(undefined);
  return (
    <Popup label={props.label} words={props.words} width={320} wanting={props.wanting} onEscape={() => putBack.current?.()}>
      {(close) => <WhenForm {...props} close={close} putBack={putBack} />}
    </Popup>
  );
}

type FormProps = Props & { close: () => void; putBack: React.RefObject<(() => void) | undefined> };

function WhenForm({ label, value, zone, clocksAt, empty, examples, onChange, keep, close, putBack, ...about }: FormProps) {
  const { edge, locale } = about;
  const [text, setText] = useState(value ? sayWhen(value, locale, edge) : '');
  const [typed, setTyped] = useState(false);
  const [old] = useState(keep);
  const isChanged = useRef(false);
  putBack.current = () => {
    if (isChanged.current) old();
    isChanged.current = false;
  };
  const { found, words } = typed ? reading(text, about, clocksAt) : { found: undefined, words: '' };
  const take = (typedNow: string) => {
    const read = typedNow.trim() === '' ? null : readWhen(typedNow, about);
    if (read === null || 'problem' in read) return putBack.current?.();
    isChanged.current = true;
    onChange(read.local, read.other);
  };
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        // It may be opened from within another form, whose own it is not.
        event.stopPropagation();
        if (!typed || found || text.trim() === '') close();
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
          aria-invalid={words !== '' && !found}
          onFocus={(event) => event.target.select()}
          onChange={(event) => {
            setText(event.target.value);
            setTyped(true);
            take(event.target.value);
          }}
        />
      </label>
      <p className={`mt-1 min-h-5 ${words.includes('⚠') ? 'text-doubt' : 'text-faded'}`} role="status">
        {words || 'A date, a day, a time; Enter takes it, Escape leaves it as it was.'}
      </p>
      <p className="mt-1 flex flex-wrap gap-x-3">
        {examples.map((example) => (
          <button
            key={example}
            type="button"
            className="word"
            onClick={() => {
              take(example);
              close();
            }}
          >
            {example}
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
