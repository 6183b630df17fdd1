import type { Json } from '../../api/client';
import { useShoppers } from '../../api/queries';
import { Clause, Remove } from '../../shop/Clause';
import {
  type Condition,
  type Draft,
  get,
  isAboutWhom,
  type Path,
  problemsUnder,
  topConditions,
  type WrittenCondition,
} from '../../shop/document';
import { useShopContext } from '../../shop/shop';
import { ShopperSearch } from '../../tape/TapeHead';
import { Choice } from '../../ui/Choice';
import { Menu } from '../../ui/Menu';
import { toAmount, toNumber, toText } from '../../ui/numbers';
import { Popup } from '../../ui/Popup';
import { Ticks } from '../../ui/Ticks';
import { Typed } from '../../ui/Typed';
import { COMPARISONS } from './comparisons';

/** What can be said of who buys, where to, how and in what. */
export const WHOM: { words: string; condition: () => WrittenCondition }[] = [
  { words: 'a group of shoppers', condition: () => ({ shopper: { groups: [] } }) },
  { words: 'everyone but a group', condition: () => ({ none: [{ shopper: { groups: [] } }] }) },
  { words: 'guests', condition: () => ({ shopper: { is: 'guest' } }) },
  { words: 'signed-in shoppers', condition: () => ({ shopper: { is: 'signedIn' } }) },
  { words: 'first orders', condition: () => ({ shopper: { orders: { op: '=', n: 0 } } }) },
  { words: 'those with past orders', condition: () => ({ shopper: { orders: { op: '>=', n: 1 } } }) },
  { words: 'those who spent enough before', condition: () => ({ shopper: { spent: { from: '100.00' } } }) },
  { words: 'named shoppers', condition: () => ({ shopper: { ids: [] } }) },
  { words: 'some places', condition: () => ({ destination: { in: [] } }) },
  { words: 'all places but some', condition: () => ({ destination: { out: [] } }) },
  { words: 'a delivery method', condition: () => ({ method: [] }) },
  { words: 'a sales channel', condition: () => ({ channel: [] }) },
  { words: 'a currency', condition: () => ({ currency: [] }) },
];

/** Whether a condition at the top stands in this clause: one about who buys, or that leaves one such out. Brackets stand under When. */
export function standsInFor(condition: Condition): boolean {
  const [kind = ''] = Object.keys(condition);
  const parts = condition[kind];
  if (kind === 'none' && Array.isArray(parts)) return parts.length === 1 && standsInFor(parts[0] as Condition);
  return !['all', 'any', 'none'].includes(kind) && isAboutWhom(condition);
}

/** For whom and where: the conditions at the top of the tree that say so. */
export function For({ draft }: { draft: Draft }) {
  const all = topConditions(draft.document);
  const mine = all.map((condition, place) => ({ condition, place })).filter((entry) => standsInFor(entry.condition));
  const path = (place: number): Path => (Array.isArray(get(draft.document, ['when', 'all'])) ? ['when', 'all', place] : ['when']);
  const problems = mine.flatMap((entry) =>
    problemsUnder(
      draft.problems,
      path(entry.place)
        .map((step) => `/${step}`)
        .join(''),
    ),
  );
  const add = (condition: Condition) => draft.change(['when'], { all: [...all, condition] });
  const remove = (place: number) => draft.change(['when'], { all: all.filter((_, other) => other !== place) });
  return (
    <Clause name="For" problems={problems} quiet={mine.length === 0}>
      {mine.length === 0 && 'everyone '}
      {mine.map(({ condition, place }, count) => (
        <span key={path(place).join('/')}>
          {count > 0 && <span className="text-faded"> and </span>}
          <Whom draft={draft} condition={condition} path={path(place)} />
          <Remove label="Take this out" onClick={() => remove(place)} />
        </span>
      ))}{' '}
      <Menu
        label="Narrow for whom"
        words={mine.length === 0 ? 'narrow it' : 'and…'}
        items={WHOM.map((kind) => ({ words: kind.words, onSelect: () => add(kind.condition()) }))}
      />
    </Clause>
  );
}

/** One condition on shopper, place, channel or currency. */
export function Whom({ draft, condition, path }: { draft: Draft; condition: Condition; path: Path }) {
  const { info } = useShopContext();
  const [kind = ''] = Object.keys(condition);
  const value = condition[kind];
  const options = (values: string[]) => values.map((one) => ({ value: one, words: one }));
  switch (kind) {
    case 'none':
      return (
        <>
          not <Whom draft={draft} condition={(value as Condition[])[0] ?? {}} path={[...path, kind, 0]} />
        </>
      );
    case 'method':
      return (
        <>
          delivery by{' '}
          <Ticks
            label="Ways of delivery"
            values={value as string[]}
            options={info.methods.map((method) => ({ value: method.id, words: method.name }))}
            onChange={(values) => draft.change([...path, kind], values)}
          />
        </>
      );
    case 'channel':
      return (
        <>
          the channel{' '}
          <Ticks
            label="Channels"
            values={value as string[]}
            options={options(info.channels)}
            onChange={(values) => draft.change([...path, kind], values)}
          />
        </>
      );
    case 'currency':
      return (
        <>
          payment in{' '}
          <Ticks
            label="Currencies"
            values={value as string[]}
            options={options(info.currencies.map((currency) => currency.code))}
            onChange={(values) => draft.change([...path, kind], values)}
          />
        </>
      );
    case 'destination':
      return <Places draft={draft} places={value as { in?: string[]; out?: string[] }} path={[...path, kind]} />;
    case 'shopper':
      return <Shopper draft={draft} shopper={value as Json} path={[...path, kind]} />;
    default:
      return <code className="text-faded">{JSON.stringify(condition)}</code>;
  }
}

function Places({ draft, places, path }: { draft: Draft; places: { in?: string[]; out?: string[] }; path: Path }) {
  const { info } = useShopContext();
  const options = info.places.map((place) => ({ value: place.code, words: place.name }));
  return (
    <>
      carts to{' '}
      {places.in ? (
        <Ticks label="Places" values={places.in} options={options} free onChange={(values) => draft.change([...path, 'in'], values)} />
      ) : (
        'anywhere'
      )}
      {places.out ? (
        <>
          {' '}
          without{' '}
          <Ticks
            label="Places left out"
            values={places.out}
            options={options}
            free
            onChange={(values) => draft.change([...path, 'out'], values)}
          />
        </>
      ) : (
        <button type="button" className="word ml-1" onClick={() => draft.change([...path, 'out'], [])}>
          without…
        </button>
      )}
    </>
  );
}

/** A shopper by name; by id where nobody of it is known. */
function ShopperName({ id }: { id: string }) {
  const { data = [] } = useShoppers(id, true);
  return <span title={id}>{data.find((shopper) => shopper.id === id)?.name ?? id}</span>;
}

function Shopper({ draft, shopper, path }: { draft: Draft; shopper: Json; path: Path }) {
  const { info } = useShopContext();
  if (shopper.is !== undefined) return <>{shopper.is === 'guest' ? 'guests' : 'signed-in shoppers'}</>;
  if (shopper.groups !== undefined)
    return (
      <>
        the group{' '}
        <Ticks
          label="Groups"
          free
          values={shopper.groups as string[]}
          options={info.groups.map((group) => ({ value: group, words: group }))}
          onChange={(values) => draft.change([...path, 'groups'], values)}
        />
      </>
    );
  if (shopper.orders !== undefined) {
    const orders = shopper.orders as { op: string; n: unknown };
    return (
      <>
        shoppers with{' '}
        <Choice
          label="How many past orders"
          value={orders.op}
          options={COMPARISONS}
          onChange={(op) => draft.change([...path, 'orders', 'op'], op)}
        />{' '}
        <Typed
          label="Past orders"
          value={toText(orders.n)}
          onType={(text) => draft.change([...path, 'orders', 'n'], toNumber(text) ?? '')}
        />{' '}
        past orders
      </>
    );
  }
  if (shopper.spent !== undefined) {
    const spent = shopper.spent as { from?: string; to?: string };
    return (
      <>
        shoppers who have spent from{' '}
        <Typed
          label="Spent at least"
          placeholder="any"
          value={toText(spent.from)}
          onType={(text) => draft.change([...path, 'spent', 'from'], toAmount(text))}
        />{' '}
        to{' '}
        <Typed
          label="Spent at most"
          placeholder="any"
          value={toText(spent.to)}
          onType={(text) => draft.change([...path, 'spent', 'to'], toAmount(text))}
        />{' '}
        {info.currency} before
      </>
    );
  }
  const ids = (shopper.ids as string[] | undefined) ?? [];
  return (
    <>
      the shoppers{' '}
      {ids.map((id, place) => (
        <span key={id} className="mr-1">
          <ShopperName id={id} />
          <Remove label={`Take out ${id}`} onClick={() => draft.change([...path, 'ids', place], undefined)} />
        </span>
      ))}
      <Popup
        label="Add a shopper"
        words={ids.length === 0 ? 'choose' : 'and…'}
        wanting={ids.length === 0}
        className={ids.length === 0 ? 'part' : 'word'}
        width={340}
      >
        {(close) => (
          <ShopperSearch
            groups={info.groups}
            onChoose={(found) => {
              if (found && !ids.includes(found.id)) draft.change([...path, 'ids'], [...ids, found.id]);
              close();
            }}
          />
        )}
      </Popup>
    </>
  );
}
