import { useState } from 'react';
import type { Json } from '../../api/client';
import { type Draft, type Path, pointerOf, problemsUnder } from '../../shop/document';
import { useShopContext } from '../../shop/shop';
import { Choice } from '../../ui/Choice';
import { toAmount, toNumber, toText } from '../../ui/numbers';
import { Typed } from '../../ui/Typed';
import { Chooser } from '../Chooser';
import { Clause, Remove } from './Clause';
import { Money } from './When';

/** A discount to begin with: what it is on must still be chosen. */
export const newDiscount = (): Json => ({ kind: 'discount', on: { in: [] }, take: { percent: 10 }, per: 'unit' });

/** What it gives: one reward a line. */
export function Gives({ draft, words }: { draft: Draft; words: string }) {
  const rewards = (draft.document.rewards as Json[] | undefined) ?? [];
  return (
    <Clause name="Gives" problems={problemsUnder(draft.problems, '/rewards')}>
      {rewards.map((reward, place) => (
        // A reward is known by its place: nothing else tells it from another.
        <div key={`reward ${place}`}>
          {place > 0 && <span className="text-faded">and </span>}
          {reward.kind === 'discount' ? (
            <Discount draft={draft} reward={reward} path={['rewards', place]} />
          ) : (
            <AsFile draft={draft} reward={reward} path={['rewards', place]} words={words} />
          )}
          {rewards.length > 1 && <Remove label="Take this reward out" onClick={() => draft.change(['rewards', place], undefined)} />}
        </div>
      ))}
      <button type="button" className="word" onClick={() => draft.change(['rewards'], [...rewards, newDiscount()])}>
        {rewards.length === 0 ? 'give a discount' : 'and another discount'}
      </button>
    </Clause>
  );
}

/** A kind that has no words of its own here yet: it is read back, and written as in a file. */
function AsFile({ draft, reward, path, words }: { draft: Draft; reward: Json; path: Path; words: string }) {
  const [typed, setTyped] = useState<string | null>(null);
  const [broken, setBroken] = useState(false);
  const shown = typed ?? JSON.stringify(reward, null, 1);
  return (
    <div className="inline-block w-full align-top">
      {words}
      <details className="mt-1">
        <summary className="word">written as in a file: {String(reward.kind)}</summary>
        <textarea
          aria-label={`The reward ${String(reward.kind)} as in a file`}
          className="mt-1 block h-56 w-full border border-rule bg-transparent p-2 font-mono text-tape leading-[16px]"
          spellCheck={false}
          value={shown}
          onFocus={() => setTyped(shown)}
          onBlur={() => setTyped(broken ? typed : null)}
          onChange={(event) => {
            setTyped(event.target.value);
            try {
              draft.change(path, JSON.parse(event.target.value));
              setBroken(false);
            } catch {
              setBroken(true);
            }
          }}
        />
        {broken && <p className="text-doubt">⚠ This is not JSON yet; the rule keeps what it last was.</p>}
      </details>
    </div>
  );
}

type TakeKind = 'percent' | 'amount' | 'price';

function Discount({ draft, reward, path }: { draft: Draft; reward: Json; path: Path }) {
  const { info } = useShopContext();
  const take = (reward.take ?? {}) as Json;
  const kind = (['percent', 'amount', 'price'] as const).find((one) => one in take) ?? 'percent';
  const each = reward.per !== 'cart';
  const wanting = (member: string) => problemsUnder(draft.problems, pointerOf([...path, member])).length > 0;
  const setTake = (next: TakeKind) => {
    const old = take[kind];
    const number = typeof old === 'object' ? undefined : toText(old);
    draft.change([...path, 'take'], {
      [next]:
        next === 'percent' ? (toNumber(number ?? '') ?? 10) : number ? Number(number.replace(',', '.')).toFixed(digits(info)) : '5.00',
    });
  };
  const limit = reward.maxUnits === undefined ? 'all' : ((reward.pick as string | undefined) ?? 'cheapest');
  return (
    <>
      {kind === 'percent' ? (
        <Typed
          label="Percent off"
          inputMode="decimal"
          wanting={wanting('take')}
          value={toText(take.percent)}
          onType={(text) => draft.change([...path, 'take'], { percent: toNumber(text) ?? '' })}
        />
      ) : (
        <Money
          draft={draft}
          label={kind === 'amount' ? 'Amount off' : 'Price'}
          placeholder="amount"
          value={take[kind]}
          path={[...path, 'take', kind]}
        />
      )}{' '}
      <Choice
        label="How the price comes down"
        value={kind}
        options={[
          { value: 'percent', words: '% off' },
          { value: 'amount', words: `${info.currency} off` },
          ...(each ? [{ value: 'price', words: `${info.currency} as the price of` }] : []),
        ]}
        onChange={(next) => setTake(next as TakeKind)}
      />{' '}
      <Choice
        label="From which units"
        value={each ? limit : 'cart'}
        options={[
          { value: 'all', words: 'every unit of' },
          { value: 'cheapest', words: 'only the cheapest' },
          { value: 'dearest', words: 'only the dearest' },
          ...(kind === 'price' ? [] : [{ value: 'cart', words: 'once, all together, of' }]),
        ]}
        onChange={(which) => draft.change(path, fromUnits(reward, which))}
      />{' '}
      {each && limit !== 'all' && (
        <>
          <Typed
            label="How many units"
            value={toText(reward.maxUnits)}
            wanting={wanting('maxUnits')}
            onType={(text) => draft.change([...path, 'maxUnits'], toNumber(text) ?? '')}
          />{' '}
          of{' '}
        </>
      )}
      <Chooser
        label="On what"
        wanting={wanting('on')}
        selection={reward.on as Json | undefined}
        onChange={(on) => draft.change([...path, 'on'], on)}
      />
      , at most{' '}
      <Typed
        label="At most in one cart"
        placeholder="any amount"
        inputMode="decimal"
        value={toText(reward.maxDiscount)}
        onType={(text) => draft.change([...path, 'maxDiscount'], toAmount(text))}
      />
      {reward.maxDiscount !== undefined && ` ${info.currency}`}
    </>
  );
}

function fromUnits(reward: Json, which: string): Json {
  if (which === 'cart') return without({ ...reward, per: 'cart' }, 'pick', 'maxUnits');
  if (which === 'all') return without({ ...reward, per: 'unit' }, 'pick', 'maxUnits');
  return { ...reward, per: 'unit', pick: which, maxUnits: reward.maxUnits ?? 1 };
}

const digits = (info: { currency: string; currencies: { code: string; exponent: number }[] }) =>
  info.currencies.find((currency) => currency.code === info.currency)?.exponent ?? 2;

function without(reward: Json, ...members: string[]): Json {
  return Object.fromEntries(Object.entries(reward).filter(([member]) => !members.includes(member)));
}
