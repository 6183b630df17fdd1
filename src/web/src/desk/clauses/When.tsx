import { createContext, useContext } from 'react';
import type { Json } from '../../api/client';
import { Clause, Remove } from '../../shop/Clause';
import {
  type Condition,
  type Draft,
  get,
  type Path,
  pointerOf,
  problemsUnder,
  topConditions,
  type WrittenCondition,
} from '../../shop/document';
import { useShopContext } from '../../shop/shop';
import { Choice } from '../../ui/Choice';
import { Menu } from '../../ui/Menu';
import { toNumber, toText } from '../../ui/numbers';
import { Typed } from '../../ui/Typed';
import { Chooser } from '../Chooser';
import { GROUPS, type GroupKind, groupOf, move, step } from '../tree';
import { COMPARISONS } from './comparisons';
import { standsInFor, WHOM, Whom } from './For';
import { Money } from './Money';

type Write = (next: (old: Json) => Json) => void;

const WriteContext = createContext<Write>(() => {});

const EVERYTHING = { in: [{ all: true }] };

const KINDS: { words: string; condition: () => WrittenCondition }[] = [
  { words: 'a number of items', condition: () => ({ quantity: { of: { in: [] }, op: '>=', n: 2 } }) },
  { words: 'an amount of money', condition: () => ({ spend: { of: EVERYTHING, from: '50.00' } }) },
  { words: 'different items', condition: () => ({ distinct: { of: EVERYTHING, op: '>=', n: 2 } }) },
  { words: 'nothing but some items', condition: () => ({ only: { in: [] } }) },
  { words: 'a weight', condition: () => ({ weight: { op: '<=', grams: 5000 } }) },
  { words: 'any of several', condition: () => ({ any: [] }) },
  { words: 'all of several', condition: () => ({ all: [] }) },
  { words: 'none of several', condition: () => ({ none: [] }) },
];

const GROUP_WORDS: Record<GroupKind, string> = { all: 'all of', any: 'any of', none: 'none of' };

/** When it holds: conditions on the cart, nested in brackets, moved by drag or keys. */
export function When({ draft, write }: { draft: Draft; write: Write }) {
  const all = topConditions(draft.document);
  const mine = all.map((condition, place) => ({ condition, place })).filter((entry) => !standsInFor(entry.condition));
  const isList = Array.isArray(get(draft.document, ['when', 'all']));
  const path = (place: number): Path => (isList ? ['when', 'all', place] : ['when']);
  const problems = mine.flatMap((entry) => problemsUnder(draft.problems, pointerOf(path(entry.place))));
  return (
    <WriteContext.Provider value={write}>
      <Clause name="When" problems={problems} quiet={mine.length === 0}>
        {mine.length === 0 && 'whatever is in the cart '}
        {mine.map(({ condition, place }) => (
          <Row key={path(place).join('/')} draft={draft} condition={condition} path={path(place)} />
        ))}
        <Add
          words={mine.length === 0 ? 'only when…' : 'and when…'}
          onAdd={(condition) => draft.change(['when'], { all: [...all, condition] })}
        />
      </Clause>
    </WriteContext.Provider>
  );
}

/** At the top, who buys is said under For; in a bracket every kind can stand beside every other. */
function Add({ words, kinds = KINDS, onAdd }: { words: string; kinds?: typeof KINDS; onAdd: (condition: Condition) => void }) {
  return (
    <Menu
      label="Add a condition"
      words={words}
      items={kinds.map((kind) => ({ words: kind.words, onSelect: () => onAdd(kind.condition()) }))}
    />
  );
}

const DRAGGED = 'application/x-condition';

function Row({ draft, condition, path }: { draft: Draft; condition: Condition; path: Path }) {
  const write = useContext(WriteContext);
  const kind = groupOf(condition);
  const list = path.slice(0, -1);
  const place = path.at(-1);
  const drop = (event: React.DragEvent, toList: Path, index: number) => {
    const from = event.dataTransfer.getData(DRAGGED);
    if (!from) return;
    event.preventDefault();
    event.stopPropagation();
    write((old) => move(old, JSON.parse(from) as Path, toList, index));
  };
  const keys = (event: React.KeyboardEvent) => {
    const ways = { ArrowUp: 'up', ArrowDown: 'down', ArrowLeft: 'out', ArrowRight: 'into' } as const;
    const way = event.altKey ? ways[event.key as keyof typeof ways] : undefined;
    if (!way || typeof place !== 'number') return;
    event.preventDefault();
    event.stopPropagation();
    write((old) => {
      const after = step(old, path, way);
      requestAnimationFrame(() => document.querySelector<HTMLElement>(`[data-grip="${pointerOf(after.path)}"]`)?.focus());
      return after.document;
    });
  };
  return (
    <div
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => typeof place === 'number' && drop(event, list, place)}
      role="presentation"
    >
      <div className="flex items-baseline" onKeyDown={keys} role="presentation">
        <button
          type="button"
          draggable={typeof place === 'number'}
          data-grip={pointerOf(path)}
          className="min-h-6 w-6 shrink-0 cursor-grab text-left text-faded"
          aria-label="Move: Alt with an arrow key, or drag"
          title="drag, or Alt with an arrow key"
          onDragStart={(event) => event.dataTransfer.setData(DRAGGED, JSON.stringify(path))}
        >
          ⠿
        </button>
        <div className="min-w-0 flex-1">
          {kind ? (
            <Choice
              label="How the conditions in this bracket join"
              value={kind}
              options={GROUPS.map((one) => ({ value: one, words: GROUP_WORDS[one] }))}
              onChange={(joined) => draft.change(path, { [joined]: condition[kind] })}
            />
          ) : (
            <Leaf draft={draft} condition={condition} path={path} />
          )}
          <Remove label="Take this condition out" onClick={() => draft.change(path, typeof place === 'number' ? undefined : { all: [] })} />
        </div>
      </div>
      {kind && (
        <div
          className="ml-1.5 border-l-2 border-ink pl-3"
          role="presentation"
          onDragOver={(event) => event.preventDefault()}
          onDrop={(event) => drop(event, [...path, kind], (condition[kind] as unknown[]).length)}
        >
          {(condition[kind] as Condition[]).map((part, inner) => (
            // A condition is known by its place only; its fields keep their own text.
            <Row key={`${kind}${inner}`} draft={draft} condition={part} path={[...path, kind, inner]} />
          ))}
          <Add
            words="add to the bracket…"
            kinds={[...KINDS, ...WHOM]}
            onAdd={(added) => draft.change([...path, kind], [...(condition[kind] as Condition[]), added])}
          />
        </div>
      )}
    </div>
  );
}

function Leaf({ draft, condition, path }: { draft: Draft; condition: Condition; path: Path }) {
  const { info } = useShopContext();
  const [kind = ''] = Object.keys(condition) as (keyof WrittenCondition | '')[];
  const at: Path = kind === '' ? path : [...path, kind];
  const value = condition[kind] as Json;
  const wanting = problemsUnder(draft.problems, pointerOf(at)).length > 0;
  switch (kind) {
    case 'quantity':
    case 'distinct':
      return (
        <>
          the cart holds{' '}
          <Choice label="Comparison" value={String(value.op)} options={COMPARISONS} onChange={(op) => draft.change([...at, 'op'], op)} />{' '}
          <Typed label="How many" value={toText(value.n)} onType={(text) => draft.change([...at, 'n'], toNumber(text) ?? '')} />{' '}
          {kind === 'distinct' ? 'different' : ''} of{' '}
          <Chooser
            label="Of what"
            all="anything"
            wanting={wanting}
            selection={(value.of ?? EVERYTHING) as Json}
            onChange={(of) => draft.change([...at, 'of'], of)}
          />
        </>
      );
    case 'spend':
      return (
        <>
          the cart holds{' '}
          <Chooser
            label="Of what"
            all="goods"
            wanting={wanting}
            selection={(value.of ?? EVERYTHING) as Json}
            onChange={(of) => draft.change([...at, 'of'], of)}
          />{' '}
          for at least <Money draft={draft} label="At least" value={value.from} path={[...at, 'from']} /> and at most{' '}
          <Money draft={draft} label="At most" value={value.to} path={[...at, 'to']} /> {info.currency},{' '}
          <Choice
            label="Counted"
            value={(value.basis as string | undefined) ?? 'before'}
            options={[
              { value: 'before', words: 'before other promotions' },
              path.length <= 3
                ? { value: 'after', words: 'after other promotions' }
                : { value: 'after', words: 'after other promotions: only outside brackets', off: true },
            ]}
            onChange={(basis) => draft.change([...at, 'basis'], basis === 'before' ? undefined : basis)}
          />
        </>
      );
    case 'only':
      return (
        <>
          the cart holds nothing but{' '}
          <Chooser label="Nothing but" wanting={wanting} selection={value} onChange={(of) => draft.change(at, of)} />
        </>
      );
    case 'weight':
      return (
        <>
          the cart weighs{' '}
          <Choice label="Comparison" value={String(value.op)} options={COMPARISONS} onChange={(op) => draft.change([...at, 'op'], op)} />{' '}
          <Typed label="Grams" value={toText(value.grams)} onType={(text) => draft.change([...at, 'grams'], toNumber(text) ?? '')} /> g
        </>
      );
    default:
      return <Whom draft={draft} condition={condition} path={path} />;
  }
}
