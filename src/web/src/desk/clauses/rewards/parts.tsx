import type { Json } from '../../../api/client';
import { type Draft, type Path, pointerOf, problemsUnder } from '../../../shop/document';
import { useShopContext } from '../../../shop/shop';
import { Choice } from '../../../ui/Choice';
import { toNumber, toText } from '../../../ui/numbers';
import { Typed } from '../../../ui/Typed';
import { Chooser } from '../../Chooser';
import { BaseAmount, Money, OtherCurrencies } from '../Money';

/** What every kind of reward is written with: the document, the reward, and the way to it. */
export type RewardProps = {
  draft: Draft;
  reward: Json;
  path: Path;
  /** It stands on the step of a ladder, whose items it takes unless it names its own. */
  onStep?: boolean;
};

export const wanting = (draft: Draft, path: Path, ...member: Path) =>
  problemsUnder(draft.problems, pointerOf([...path, ...member])).length > 0;

type TakeKind = 'percent' | 'amount' | 'price' | 'free';

/** How far a price comes down: free, by a percentage, by an amount, or to a price. */
export function Take({ draft, take, path, kinds }: { draft: Draft; take: Json | undefined; path: Path; kinds: TakeKind[] }) {
  const { info } = useShopContext();
  const kind: TakeKind =
    take && 'amount' in take
      ? 'amount'
      : take && 'price' in take
        ? 'price'
        : take?.percent === 100 && kinds.includes('free')
          ? 'free'
          : 'percent';
  const bad = wanting(draft, path);
  const digits = info.currencies.find((currency) => currency.code === info.currency)?.exponent ?? 2;
  const set = (next: TakeKind) => {
    const old = take?.[kind === 'free' ? 'percent' : kind];
    const number = typeof old === 'object' ? undefined : Number(toText(old));
    if (next === 'free') draft.change(path, { percent: 100 });
    else if (next === 'percent') draft.change(path, { percent: number !== undefined && number > 0 && number < 100 ? number : 10 });
    else draft.change(path, { [next]: (number && kind !== 'free' ? number : 5).toFixed(digits) });
  };
  const words: Record<TakeKind, string> = {
    free: 'free',
    percent: '% off',
    amount: `${info.currency} off`,
    price: `${info.currency} as the price`,
  };
  const amount =
    kind === 'amount' || kind === 'price'
      ? { draft, label: kind === 'amount' ? 'Amount off' : 'Price', value: take?.[kind], path: [...path, kind] }
      : null;
  // The choice keeps its place whatever is chosen, and with it the focus.
  return (
    <>
      {kind === 'percent' && (
        <>
          <Typed
            label="Percent off"
            inputMode="decimal"
            data-at={pointerOf([...path, 'percent'])}
            wanting={bad}
            value={toText(take?.percent)}
            onType={(text) => draft.change(path, { percent: toNumber(text) ?? '' })}
          />{' '}
        </>
      )}
      {amount && (
        <>
          <BaseAmount {...amount} placeholder="amount" wanting={bad} />{' '}
        </>
      )}
      <Choice
        label="How the price comes down"
        value={kind}
        options={kinds.map((one) => ({ value: one, words: words[one] }))}
        onChange={(next) => set(next as TakeKind)}
      />
      {amount && <OtherCurrencies {...amount} />}
    </>
  );
}

/** A whole number. */
export function Count({
  draft,
  label,
  value,
  path,
  placeholder,
  emptied = path,
}: {
  draft: Draft;
  label: string;
  value: unknown;
  path: Path;
  /** What it is where no number is written; without one a number is needed. */
  placeholder?: string;
  /** What goes with it when it is emptied. */
  emptied?: Path;
}) {
  return (
    <Typed
      label={label}
      inputMode="numeric"
      placeholder={placeholder}
      wanting={wanting(draft, path)}
      value={toText(value)}
      onType={(text) => {
        const number = toNumber(text);
        if (number === undefined && placeholder) draft.change(emptied, undefined);
        else draft.change(path, number ?? '');
      }}
    />
  );
}

/** Some items. */
export function Items({ draft, label, value, path, all }: { draft: Draft; label: string; value: unknown; path: Path; all?: string }) {
  return (
    <Chooser
      label={label}
      all={all}
      wanting={wanting(draft, path)}
      selection={value as Json | undefined}
      onChange={(selection) => draft.change(path, selection)}
    />
  );
}

/** How often: once, every time it fits, or at most so often. */
export function Repeat({ draft, value, path }: { draft: Draft; value: unknown; path: Path }) {
  const most = value !== null && typeof value === 'object' ? (value as Json).atMost : undefined;
  const kind = most !== undefined ? 'atMost' : value === 'every' ? 'every' : 'once';
  return (
    <>
      <Choice
        label="How often"
        value={kind}
        options={[
          { value: 'once', words: 'once' },
          { value: 'every', words: 'every time it fits' },
          { value: 'atMost', words: 'at most' },
        ]}
        onChange={(next) => draft.change(path, next === 'atMost' ? { atMost: 2 } : next)}
      />
      {kind === 'atMost' && (
        <>
          {' '}
          <Count draft={draft} label="At most so often" value={most} path={[...path, 'atMost']} /> times
        </>
      )}
    </>
  );
}

/** A bound on what comes off; without one it says so. */
export function AtMost({ draft, label, value, path }: { draft: Draft; label: string; value: unknown; path: Path }) {
  const { info } = useShopContext();
  return (
    <>
      , {value !== undefined && 'at most '}
      <Money draft={draft} label={label} placeholder="no maximum" value={value} path={path}>
        {value !== undefined && info.currency}
      </Money>
    </>
  );
}
