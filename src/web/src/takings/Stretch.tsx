import type { TakingsRowInfo } from '../api/client';
import { useShopContext } from '../shop/shop';
import { Choice } from '../ui/Choice';
import { Typed } from '../ui/Typed';
import { readWhen } from '../ui/when';
import { type Asked, STRETCHES } from './asked';

type Props = {
  asked: Asked;
  ask: (change: Partial<Asked>) => void;
  /** How many orders from before stand in these days. */
  brought: number;
  /** The promotion that lies open, whose own window can be chosen. */
  of?: TakingsRowInfo;
};

/** Which days, beside which, as a sentence. */
export function Stretch({ asked, ask, brought, of }: Props) {
  const { format, info } = useShopContext();
  const now = format.toLocal(info.demoClock ? info.now : Date.now());
  const dayOf = (text: string, edge: 'start' | 'end') => {
    const read = readWhen(text, { now, locale: info.locale, edge });
    // The end of a day is the beginning of the next: the day itself is meant.
    if (read === null || 'problem' in read) return undefined;
    return edge === 'end' && read.local.endsWith('T00:00') ? dayBefore(read.local.slice(0, 10)) : read.local.slice(0, 10);
  };
  const day = (label: string, member: 'from' | 'to') => (
    <Typed
      label={label}
      prose
      value={saidDay(asked[member], info.locale)}
      onType={(text) => {
        const read = dayOf(text, member === 'from' ? 'start' : 'end');
        if (read && (member === 'from' ? read <= asked.to : read >= asked.from)) ask({ [member]: read });
      }}
    />
  );
  return (
    <p className="leading-[26px]">
      What promotions brought{' '}
      <Choice
        label="Which days"
        value={asked.stretch}
        options={of?.windowFrom ? [...STRETCHES, { value: WINDOW, words: `the window of “${of.name}”` }] : STRETCHES}
        onChange={(stretch) =>
          stretch === WINDOW && of?.windowFrom && of.windowTo
            ? ask({ stretch: 'days', from: of.windowFrom, to: of.windowTo })
            : ask({ stretch })
        }
      />
      {asked.stretch === 'days' ? (
        <>
          , from {day('From which day', 'from')} to {day('To which day', 'to')}
        </>
      ) : (
        <span className="text-faded"> ({asked.from === asked.to ? saidDay(asked.from, info.locale) : span(asked, info.locale)})</span>
      )}
      ,{' '}
      <Choice
        label="Beside"
        value={asked.beside || 'nothing'}
        options={[
          { value: 'nothing', words: 'by themselves' },
          { value: 'before', words: 'beside the days before' },
          { value: 'year', words: 'beside a year ago' },
        ]}
        onChange={(beside) => ask({ beside: beside === 'nothing' ? '' : beside })}
      />
      {(brought > 0 || asked.brought) && (
        <>
          ,{' '}
          <Choice
            label="Orders from before"
            value={String(asked.brought)}
            options={[
              { value: 'false', words: `without the ${format.number(brought)} orders brought in` },
              { value: 'true', words: `with the ${format.number(brought)} orders brought in` },
            ]}
            onChange={(chosen) => ask({ brought: chosen === 'true' })}
          />
        </>
      )}
      .
    </p>
  );
}

// Chosen, it is days of one's own.
const WINDOW = 'window';

const saidDay = (day: string, locale: string) =>
  new Date(`${day}T00:00Z`).toLocaleDateString(locale, { timeZone: 'UTC', day: 'numeric', month: 'short', year: 'numeric' });

const span = ({ from, to }: Asked, locale: string) =>
  new Intl.DateTimeFormat(locale, { timeZone: 'UTC', day: 'numeric', month: 'short', year: 'numeric' }).formatRange(
    new Date(`${from}T00:00Z`),
    new Date(`${to}T00:00Z`),
  );

const dayBefore = (day: string) => new Date(Date.parse(`${day}T00:00Z`) - 86_400_000).toISOString().slice(0, 10);
