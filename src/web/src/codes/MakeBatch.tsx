import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type BatchRow, type Problem, Refused } from '../api/client';
import { useHardness } from '../api/queries';
import { Choice } from '../ui/Choice';
import { toNumber } from '../ui/numbers';
import { Typed } from '../ui/Typed';

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
      await answered<BatchRow>(api.POST('/api/batches', { body: { ...wish, meant } as never }));
      setOpen(false);
    } catch (error) {
      setProblems(error instanceof Refused ? error.problems : [{ at: '', code: 'failed', message: (error as Error).message }]);
    } finally {
      setBusy(false);
      queries.invalidateQueries({ queryKey: ['batches'] });
    }
  };
  if (!open)
    return (
      <p className="px-4">
        <button type="button" className="word" onClick={() => setOpen(true)}>
          make codes…
        </button>
      </p>
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
          placeholder="any number of"
          inputMode="numeric"
          wanting={wanting('usesEach')}
          value={uses}
          onType={setUses}
        />{' '}
        orders each until{' '}
        <Typed label="Last day" placeholder="2027-03-31" wanting={wanting('lastDay')} value={lastDay} onType={setLastDay} /> for{' '}
        <Typed label="Note" placeholder="whom or what" wanting={wanting('note')} value={note} onType={setNote} />
      </p>
      {hardness && !error && (
        <p data-testid="hardness" className={hardness.severity ? 'text-doubt' : 'text-faded'}>
          {hardness.severity ? '⚠ ' : ''}
          {hardness.words}; <span className="font-mono">{hardness.example}</span>
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
          leave it
        </button>
      </p>
    </form>
  );
}
