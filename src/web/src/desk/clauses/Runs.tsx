import type { Json } from '../../api/client';
import { type Draft, problemsUnder } from '../../shop/document';
import { useShopContext } from '../../shop/shop';
import { toNumber, toText } from '../../ui/numbers';
import { Popup } from '../../ui/Popup';
import { Typed } from '../../ui/Typed';
import { Clause } from './Clause';

/** From when to when, in the shop's time. */
export function Runs({ draft }: { draft: Draft }) {
  const { info } = useShopContext();
  const window = (draft.document.window ?? {}) as Json;
  const quiet = window.start === undefined && window.end === undefined;
  const setEnd = (name: string, value: string | undefined) => {
    const next = { ...window, [name]: value };
    const kept = Object.fromEntries(Object.entries(next).filter(([, entry]) => entry !== undefined));
    draft.change(['window'], Object.keys(kept).length === 0 ? undefined : kept);
  };
  return (
    <Clause name="Runs" problems={problemsUnder(draft.problems, '/window')} quiet={quiet}>
      from <End label="Start" value={window.start} empty="the moment it is live" onChange={(value) => setEnd('start', value)} /> to{' '}
      <End label="End" value={window.end} empty="no end" onChange={(value) => setEnd('end', value)} /> {info.timeZone} time, with{' '}
      <Typed
        label="Minutes of grace"
        placeholder="no"
        value={toText(window.graceMinutes)}
        onType={(text) => draft.change(['window', 'graceMinutes'], toNumber(text))}
      />{' '}
      minutes of grace on both sides
      {typeof window.repeat === 'string' && (
        <>
          , again and again by{' '}
          <Typed label="Recurrence rule" value={toText(window.repeat)} onType={(text) => draft.change(['window', 'repeat'], text)} />, each
          time for{' '}
          <Typed label="How long each time" value={toText(window.lasts)} onType={(text) => draft.change(['window', 'lasts'], text)} />
        </>
      )}
    </Clause>
  );
}

function End({
  label,
  value,
  empty,
  onChange,
}: {
  label: string;
  value: unknown;
  empty: string;
  onChange: (value: string | undefined) => void;
}) {
  const { info } = useShopContext();
  const written = toText(value);
  const words = /^\d{4}-\d\d-\d\dT\d\d:\d\d$/.test(written)
    ? new Intl.DateTimeFormat(info.locale, {
        timeZone: 'UTC',
        weekday: 'short',
        day: 'numeric',
        month: 'long',
        year: 'numeric',
        hour: '2-digit',
        minute: '2-digit',
      }).format(new Date(`${written}Z`))
    : written || empty;
  return (
    <Popup label={label} words={words}>
      {(close) => (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            close();
          }}
        >
          <label className="block">
            {label}, in {info.timeZone}
            <input
              type="datetime-local"
              className="mt-1 block w-full border-b border-rule bg-transparent"
              value={written.slice(0, 16)}
              onChange={(event) => onChange(event.target.value || undefined)}
            />
          </label>
          <button
            type="button"
            className="word mt-2"
            onClick={() => {
              onChange(undefined);
              close();
            }}
          >
            {empty}
          </button>
        </form>
      )}
    </Popup>
  );
}
