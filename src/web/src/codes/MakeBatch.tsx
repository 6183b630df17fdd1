import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'wouter';
import { answered, api, type BatchRow, type Json, type Problem, Refused } from '../api/client';
import { useHardness, usePromotion } from '../api/queries';
import { useShopContext } from '../shop/shop';
import { Choice } from '../ui/Choice';
import { readLocal, writeLocal } from '../ui/local';
import { toNumber } from '../ui/numbers';
import { Typed } from '../ui/Typed';
import { WhenPopup } from '../ui/WhenPopup';
import { sayWhen } from '../ui/when';
import { ForPromotion, letStartBy, type Named } from './ForPromotion';

const ALPHABETS = [
  { value: 'crockford', words: 'letters and digits without look-alikes' },
  { value: 'letters', words: 'letters' },
  { value: 'digits', words: 'digits' },
];

/** Making a batch is a sentence; beside it how hard the codes are to guess, with an example that changes. */
export function MakeBatch() {
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const [count, setCount] = useState('200');
  const [length, setLength] = useState('8');
  const [alphabet, setAlphabet] = useState('crockford');
  const [prefix, setPrefix] = useState('');
  const [group, setGroup] = useState('4');
  const [uses, setUses] = useState('1');
  const [lastDay, setLastDay] = useState('');
  const [note, setNote] = useState('');
  const [promotion, setPromotion] = useState<Named | null>(null);
  const [joined, setJoined] = useState<Named | null>(null);
  const { info, format } = useShopContext();
  const { data: page } = usePromotion(promotion?.id ?? '', promotion !== null);
  const [problems, setProblems] = useState<Problem[]>([]);
  const [busy, setBusy] = useState(false);
  const wish = {
    count: toNumber(count) ?? 0,
    length: toNumber(length) ?? 0,
    alphabet,
    prefix: prefix || null,
    group: toNumber(group) ?? 0,
    usesEach: uses.trim() === '' ? 0 : (toNumber(uses) ?? -1),
    lastDay: lastDay || null,
    note: note || null,
  };
  const { data: hardness, error } = useHardness(wish, open);
  const told = error instanceof Refused ? error.problems : problems;
  const wanting = (member: string) => told.some((problem) => problem.at === `/${member}`);
  const make = async (meant: boolean) => {
    if (busy) return;
    setBusy(true);
    setProblems([]);
    try {
      const made = await answered<BatchRow>(api.POST('/api/batches', { body: { ...wish, meant } as never }));
      setOpen(false);
      setJoined(promotion);
      if (promotion) await letStartBy(promotion, made.id);
    } catch (error) {
      setProblems(error instanceof Refused ? error.problems : [{ at: '', code: 'failed', message: (error as Error).message }]);
    } finally {
      setBusy(false);
      queries.invalidateQueries({ queryKey: ['batches'] });
      queries.invalidateQueries({ queryKey: ['promotions'] });
      queries.invalidateQueries({ queryKey: ['promotion'] });
    }
  };
  const tooMany = promotion && page ? moreThanUses(page.document, promotion.name, wish, format.number) : null;
  if (!open)
    return (
      <div className="px-4">
        <button
          type="button"
          className="word"
          onClick={() => {
            setOpen(true);
            setJoined(null);
          }}
        >
          make codes…
        </button>
        {joined && (
          <p role="status">
            The codes are joined to “{joined.name}” under <em>Starts</em>, in its draft:{' '}
            <Link className="word" href={`/promotions/${joined.id}`}>
              open it to put that live
            </Link>
          </p>
        )}
        {problems.map((problem) => (
          <p key={`${problem.at} ${problem.code}`} className="text-doubt" role="alert">
            ⚠ {problem.message}
          </p>
        ))}
      </div>
    );
  return (
    <form
      aria-label="Make codes"
      className="border-y border-rule px-4 py-2 leading-[26px]"
      data-testid="make-batch"
      onSubmit={(event) => {
        event.preventDefault();
        make(false);
      }}
    >
      <p>
        <Typed label="How many" inputMode="numeric" wanting={wanting('count')} value={count} onType={setCount} /> codes of{' '}
        <Typed label="Characters" inputMode="numeric" wanting={wanting('length')} value={length} onType={setLength} />{' '}
        <Choice label="Of what" value={alphabet} options={ALPHABETS} onChange={setAlphabet} /> beginning with{' '}
        <Typed label="Prefix" placeholder="nothing" wanting={wanting('prefix')} value={prefix} onType={setPrefix} />, a hyphen after every{' '}
        <Typed label="Group" placeholder="none" inputMode="numeric" wanting={wanting('group')} value={group} onType={setGroup} />, good for{' '}
        <Typed
          label="Orders each"
          placeholder="no limit of"
          inputMode="numeric"
          wanting={wanting('usesEach')}
          value={uses}
          onType={setUses}
        />{' '}
        {uses.trim() === '1' ? 'order' : 'orders'} each until{' '}
        <WhenPopup
          label="Last day"
          words={lastDay ? sayWhen(`${lastDay}T23:59`, info.locale, 'end').replace(/, 23:59$/, '') : 'no last day'}
          value={lastDay ? endOf(lastDay) : undefined}
          edge="end"
          locale={info.locale}
          zone={info.timeZone}
          clocksAt={() => undefined}
          now={format.toLocal(info.demoClock ? info.now : Date.now())}
          empty="no last day"
          wanting={wanting('lastDay')}
          examples={['in one month', 'in three months', '31 December']}
          keep={() => () => setLastDay(lastDay)}
          onChange={(local) => setLastDay(local === undefined ? '' : dayOfEnd(local))}
        />
        , for <ForPromotion chosen={promotion} onChoose={setPromotion} />. A note:{' '}
        <Typed label="Note" placeholder="who gets them" prose wanting={wanting('note')} value={note} onType={setNote} />
      </p>
      {hardness && !error && (
        <p data-testid="hardness" className={hardness.severity ? 'text-doubt' : 'text-faded'}>
          {hardness.severity ? '⚠ ' : ''}
          {hardness.words}; <span className="font-mono">{hardness.example}</span>
        </p>
      )}
      {tooMany && (
        <p className="text-doubt" data-testid="too-many-codes">
          ⚠ {tooMany}
        </p>
      )}
      {told.map((problem) => (
        <p key={`${problem.at} ${problem.code}`} className="text-doubt" role="status">
          ⚠ {problem.message}
        </p>
      ))}
      <p className="flex gap-4 pt-1">
        <button type="submit" className="stamp" aria-disabled={busy}>
          Make them
        </button>
        {hardness?.severity === 'error' && (
          <button type="button" className="word" onClick={() => make(true)}>
            I mean it
          </button>
        )}
        <button type="button" className="word" onClick={() => setOpen(false)}>
          cancel
        </button>
      </p>
    </form>
  );
}

// A last day is there to its end.
const endOf = (day: string) => writeLocal(readLocal(`${day}T00:00`) + 86_400_000);
const dayOfEnd = (local: string) => writeLocal(readLocal(local) - 60_000).slice(0, 10);

/** What is wrong where a promotion has fewer uses than codes are made for it; null: nothing. */
function moreThanUses(document: Json, name: string, wish: { count: unknown; usesEach: unknown }, say: (value: number) => string) {
  const total = Number((document.limits as Json | undefined)?.total);
  const orders = Number(wish.count) * Number(wish.usesEach);
  if (!total || !(Number(wish.count) > 0)) return null;
  if (orders > 0 && orders <= total) return null;
  const asked = orders > 0 ? `are good for ${say(orders)}` : 'are good for any number of them';
  return `“${name}” ends after ${say(total)} orders; these codes ${asked}. Who comes later is refused.`;
}
