import { useState } from 'react';
import { answered, api, type Json, type PromotionPage } from '../api/client';
import { Popup } from '../ui/Popup';
import { reading, sayWhen } from '../ui/when';
import { keepDraft } from './keepDraft';
import { useShopContext } from './shop';

/** Other dates: what is not said stays. */
export type NewDates = { days?: number; endDays?: number; start?: string; end?: string; noStart?: boolean; noEnd?: boolean };

/** Gives a promotion other dates, whatever its state; what is live is published anew. */
export const redate = (page: { id: string; revision: number }, dates: NewDates, reason?: string) =>
  answered<PromotionPage>(
    api.POST('/api/promotions/{id}/dates', {
      params: { path: { id: page.id } },
      body: { ...NOTHING, ...dates, revision: page.revision, reason: reason ?? null },
    }),
  );

const NOTHING = { days: null, endDays: null, start: null, end: null, noStart: null, noEnd: null };

/** The dates that a promotion has, to be put back. */
export function datesOf(page: PromotionPage): NewDates {
  const { start, end } = ((page.saved ?? page.document).window ?? {}) as Json & { start?: string; end?: string };
  return { ...(start ? { start } : { noStart: true }), ...(end ? { end } : { noEnd: true }) };
}

const MOST_DAYS = 3660;

/** Gives it the dates that it had on a page, and what was being written there, as it was. */
export async function putBack(page: PromotionPage, revision: number): Promise<PromotionPage> {
  const after = await redate({ id: page.id, revision }, datesOf(page));
  if (!page.hasDraft) return after;
  return keepDraft(page.id, after.revision, page.document);
}

type Props = { words: string; className?: string; onSet: (dates: NewDates, words: string) => void };

/** Ends now or later, begins then, moves by days: pressed or typed. */
export function Dates({ words, className = 'word', onSet }: Props) {
  return (
    <Popup label="Dates" words={words} className={className} width={330}>
      {(close) => (
        <DatesForm
          onSet={(dates, said) => {
            onSet(dates, said);
            close();
          }}
        />
      )}
    </Popup>
  );
}

function DatesForm({ onSet }: { onSet: Props['onSet'] }) {
  const { info } = useShopContext();
  const [days, setDays] = useState('7');
  const by = Number(days.trim().replace('−', '-'));
  const whole = days.trim() !== '' && Number.isInteger(by) && by !== 0 && Math.abs(by) <= MOST_DAYS ? by : null;
  const now = useShopNow();
  return (
    <div className="flex flex-col gap-3">
      <Moment label="It ends" edge="end" onTake={(end, said) => onSet({ end }, `ends ${said}`)} />
      <p className="flex flex-wrap gap-x-3">
        <button type="button" className="word" onClick={() => onSet({ end: now }, 'ended now')}>
          end it now
        </button>
        <button type="button" className="word" onClick={() => onSet({ endDays: 7 }, 'a week longer')}>
          a week longer
        </button>
        <button type="button" className="word" onClick={() => onSet({ endDays: 28 }, 'four weeks longer')}>
          four weeks longer
        </button>
        <button type="button" className="word" onClick={() => onSet({ noEnd: true }, 'without an end')}>
          without an end
        </button>
      </p>
      <Moment label="It begins" edge="start" onTake={(start, said) => onSet({ start }, `begins ${said}`)} />
      <form
        className="flex items-baseline gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          if (whole !== null) onSet({ days: whole }, `moved by ${whole} days`);
        }}
      >
        both go by
        <input
          aria-label="Days that both dates go by"
          className="w-14 border-b border-ink bg-transparent px-1 text-right"
          value={days}
          aria-invalid={whole === null}
          onChange={(event) => setDays(event.target.value)}
        />
        days
        <button type="submit" className="word" disabled={whole === null}>
          move
        </button>
      </form>
      <p className="text-faded">In {info.timeZone} time. What is live changes at once.</p>
    </div>
  );
}

type MomentProps = { label: string; edge: 'start' | 'end'; take?: string; onTake: (local: string, said: string) => void };

/** A moment typed as people say it, taken by Enter or a press. */
export function Moment({ label, edge, take = 'set', onTake }: MomentProps) {
  const { info, format } = useShopContext();
  const now = useShopNow();
  const [text, setText] = useState('');
  const { found, words } = reading(text, { now, locale: info.locale, edge }, format.clocksAt);
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        if (found) onTake(found.local, sayWhen(found.local, info.locale, edge));
      }}
    >
      <label className="flex items-baseline gap-2">
        <span className="shrink-0">{label}</span>
        <input
          className="min-w-0 flex-1 border-b border-ink bg-transparent px-1"
          placeholder="5 March 18:00"
          autoComplete="off"
          aria-label={label}
          value={text}
          aria-invalid={words !== '' && !found}
          onChange={(event) => setText(event.target.value)}
        />
        <button type="submit" className="word" aria-label={`${take}: ${label}`} disabled={!found}>
          {take}
        </button>
      </label>
      <p className={words.includes('⚠') ? 'text-doubt' : 'text-faded'} role="status">
        {words}
      </p>
    </form>
  );
}

// The time on the shop's wall, in whole minutes; the demo shop's clock may stand still.
function useShopNow(): string {
  const { info, format } = useShopContext();
  return format.toLocal(info.demoClock ? info.now : Date.now());
}
