import type { Json, NextOpening } from '../../api/client';
import { Choice } from '../../ui/Choice';
import { toText } from '../../ui/numbers';
import { Ticks } from '../../ui/Ticks';
import { Typed } from '../../ui/Typed';
import { DAYS, firstFrom, type Repeat, readLasts, readRepeat, writeLasts, writeRepeat } from './repeats';

type Props = {
  window: Json;
  set: (change: Json) => void;
  /** The time on the shop's wall. */
  now: string;
  locale: string;
  /** When it is open next, as the server worked it out. */
  comings: NextOpening[];
  wanting: boolean;
};

const KINDS = [
  { value: 'never', words: 'the whole time' },
  { value: 'daily', words: 'every day' },
  { value: 'weekly', words: 'every week on' },
  { value: 'monthly', words: 'every month on the' },
  { value: 'monthDay', words: 'every month on day' },
  { value: 'rule', words: 'by a rule' },
];

const NTH = [
  { value: '1', words: 'first' },
  { value: '2', words: 'second' },
  { value: '3', words: 'third' },
  { value: '4', words: 'fourth' },
  { value: '-1', words: 'last' },
];

/** Whether it is open all the time, or comes again and again for a while. */
export function Repeats({ window, set, now, locale, comings, wanting }: Props) {
  const written = window.repeat === undefined ? undefined : String(window.repeat);
  const repeat = readRepeat(written);
  const start = toText(window.start) || `${now.slice(0, 10)}T18:00`;
  const lasts = readLasts(toText(window.lasts));
  const days = DAYS.map((value, place) => ({
    value,
    words: new Intl.DateTimeFormat(locale.startsWith('de') ? 'en-GB' : locale, { weekday: 'long', timeZone: 'UTC' }).format(
      Date.UTC(2024, 0, 1 + place),
    ),
  }));
  // A window that repeats begins with one of its times, and lasts for something.
  const change = (next: Repeat) => {
    const rule = writeRepeat(next);
    if (rule === undefined) return set({ repeat: undefined, lasts: undefined });
    set({ repeat: rule, lasts: window.lasts ?? 'PT4H', start: next.kind === 'rule' ? start : firstFrom(next, start) });
  };
  const begin = (kind: string) => {
    const today = DAYS[(new Date(`${start.slice(0, 10)}T00:00Z`).getUTCDay() + 6) % 7] as string;
    if (kind === 'weekly') change({ kind, days: repeat.kind === 'weekly' ? repeat.days : [today] });
    else if (kind === 'monthly') change({ kind, nth: 1, day: today });
    else if (kind === 'monthDay') change({ kind, of: Number(start.slice(8, 10)) });
    else if (kind === 'rule') change({ kind, text: written ?? `FREQ=WEEKLY;BYDAY=${today}` });
    else change({ kind } as Repeat);
  };
  return (
    <>
      , <Choice label="Open when" value={repeat.kind} options={KINDS} onChange={begin} />{' '}
      {repeat.kind === 'weekly' && (
        <Ticks
          label="Days of the week"
          joint="and"
          values={repeat.days}
          options={days}
          onChange={(chosen) => chosen.length > 0 && change({ kind: 'weekly', days: chosen })}
        />
      )}
      {repeat.kind === 'monthly' && (
        <>
          <Choice
            label="Which of the month"
            value={`${repeat.nth}`}
            options={NTH}
            onChange={(nth) => change({ ...repeat, nth: Number(nth) })}
          />{' '}
          <Choice label="Day of the week" value={repeat.day} options={days} onChange={(day) => change({ ...repeat, day })} />
        </>
      )}
      {repeat.kind === 'monthDay' && (
        <Typed
          label="Day of the month"
          inputMode="numeric"
          value={repeat.of === -1 ? 'the last' : `${repeat.of}`}
          onType={(text) => {
            const of = /^(the )?last$/i.test(text.trim()) ? -1 : Number(text);
            if (of === -1 || (Number.isInteger(of) && of >= 1 && of <= 31)) change({ kind: 'monthDay', of });
          }}
        />
      )}
      {repeat.kind === 'rule' && (
        <Typed label="Recurrence rule (RFC 5545)" wanting={wanting} value={repeat.text} onType={(text) => set({ repeat: text })} />
      )}
      {repeat.kind !== 'never' && (
        <>
          , each time for{' '}
          {lasts ? (
            <>
              <Typed
                label="How long each time"
                inputMode="numeric"
                value={lasts.number}
                onType={(text) => /^\d{1,4}$/.test(text.trim()) && set({ lasts: writeLasts(text.trim(), lasts.unit) })}
              />{' '}
              <Choice
                label="Of what"
                value={lasts.unit}
                options={['minutes', 'hours', 'days'].map((unit) => ({ value: unit, words: unit }))}
                onChange={(unit) => set({ lasts: writeLasts(lasts.number, unit) })}
              />
            </>
          ) : (
            <Typed label="How long each time" value={toText(window.lasts)} onType={(text) => set({ lasts: text })} />
          )}
          {comings.length > 0 && (
            <ol className="font-mono text-tape text-faded" aria-label="Open next" data-testid="comings">
              {comings.map((coming) => (
                <li key={coming.words}>
                  {coming.words}
                  {coming.clocksChange && <span className="text-doubt"> · the clocks change</span>}
                </li>
              ))}
            </ol>
          )}
        </>
      )}
    </>
  );
}
