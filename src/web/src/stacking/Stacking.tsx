import { useEffect, useState } from 'react';
import { Link, useSearchParams } from 'wouter';
import {
  answered,
  api,
  type Cart,
  type ChangedDraft,
  type Json,
  type MeetingPair,
  type MeetingsRow,
  type PromotionPage,
} from '../api/client';
import { useMeetings, useMeetingsOf } from '../api/queries';
import { useCart } from '../tape/cart';
import { Find } from '../ui/Find';
import { rowKeys } from '../ui/keys';
import { useRowFocus } from '../ui/useRowFocus';
import { Change } from './Change';
import { Moved } from './Moved';

type Props = { onDraft: (draft: { id: string; document: Json } | null) => void };

/** Who may meet whom in one cart: all by what is written of them, or the others around the one that is pressed. */
export function Stacking({ onDraft }: Props) {
  const [query, setQuery] = useSearchParams();
  const pressed = query.get('p') ?? '';
  const press = (id: string) => setQuery(id ? { p: id } : {}, { replace: false });
  useEffect(() => () => onDraft(null), [onDraft]);
  return (
    <section aria-label="Stacking" className="flex h-full flex-col" data-testid="stacking" onKeyDown={rowKeys(walk)}>
      {pressed ? (
        <Around id={pressed} onAll={() => press('')} onPress={press} onDraft={onDraft} />
      ) : (
        <All onPress={press} onDraft={onDraft} />
      )}
    </section>
  );
}

const HEADINGS: [heading: string, words: string][] = [
  ['none', 'stands alone'],
  ['only', 'only with some'],
  ['except', 'anything but some'],
  ['any', 'with anything'],
];

function All({ onPress, onDraft }: { onPress: (id: string) => void } & Props) {
  const { data, error } = useMeetings();
  const list = useRowFocus();
  const [move, setMove] = useState<{ words: string; drafts: ChangedDraft[] } | null>(null);
  const [said, setSaid] = useState('');
  const leave = () => {
    setMove(null);
    onDraft(null);
  };
  // Nothing is written yet: the tape shows what it would change.
  const place = async (row: MeetingsRow, past: MeetingsRow, isBefore: boolean) => {
    setSaid('');
    const all = data?.rows ?? [];
    const next = isBefore ? past : all[all.findIndex((other) => other.id === past.id) + 1];
    if (next?.id === row.id) return;
    try {
      const drafts = await answered<ChangedDraft[]>(api.POST('/api/meetings/move', { body: { id: row.id, before: next?.id ?? null } }));
      const own = drafts.find((draft) => draft.id === row.id);
      onDraft(own ? { id: own.id, document: own.document as Json } : null);
      setMove(own ? { words: `${row.name} ${isBefore ? 'before' : 'after'} ${past.name}`, drafts } : null);
    } catch (failed) {
      setSaid((failed as Error).message);
    }
  };
  const [find, setFind] = useState('');
  const rows = (data?.rows ?? []).filter((row) => row.name.toLowerCase().includes(find.toLowerCase()));
  const families = [...new Set(rows.map((row) => row.family).filter((family) => family != null))];
  const groups = [
    ...families.map((family) => ({ words: `one of the family ${family}`, rows: rows.filter((row) => row.family === family) })),
    ...HEADINGS.map(([heading, words]) => ({ words, rows: rows.filter((row) => row.heading === heading) })),
  ].filter((group) => group.rows.length > 0);
  const others = (data?.rows.length ?? 1) - 1;
  return (
    <>
      <header className="border-b border-rule px-4 pt-2 pb-1.5">
        <div className="flex items-baseline gap-4">
          <h1 className="text-[17px] font-medium">Stacking</h1>
          <Find
            label="Find a promotion"
            placeholder="find a promotion"
            value={find}
            onType={setFind}
            className="ml-auto w-48"
            data-testid="stacking-find"
          />
        </div>
        <p className="text-faded">
          Who may meet whom in one cart. Under each heading what applies first stands first: drag a row, or press Alt ↑ ↓ on it, to change
          its rank.
          {data && data.known > 0 && data.known < data.pairs && ` ${data.known} of ${data.pairs} pairs have been looked at.`}
          {data?.rows.every((row) => row.meets == null) && data.rows.length > 1 && ' Press one to see whom it meets.'}
        </p>
      </header>
      <div ref={list} className="min-h-0 flex-1 overflow-y-auto pb-4">
        {error && <p className="px-4 py-2 text-doubt">⚠ {error.message}</p>}
        {said && <p className="px-4 py-2 text-doubt">⚠ {said}</p>}
        {move && <Moved {...move} onDone={leave} />}
        {data && data.rows.length === 0 && (
          <p className="px-4 py-3">
            Nothing is live or being written:{' '}
            <Link href="/promotions/new" className="word">
              write a promotion
            </Link>
            .
          </p>
        )}
        {groups.map((group) => (
          <section key={group.words} aria-label={group.words}>
            <h2 className="head-word border-b border-ink px-4 pt-3">{group.words}</h2>
            <ul>
              {group.rows.map((row, at) => (
                <Row
                  key={row.id}
                  row={row}
                  band={at % 2 === 0}
                  others={others}
                  above={group.rows[at - 1]}
                  below={group.rows[at + 1]}
                  dropped={(id) => rows.find((other) => other.id === id)}
                  onPlace={place}
                  onPress={onPress}
                />
              ))}
            </ul>
          </section>
        ))}
      </div>
    </>
  );
}

type RowProps = {
  row: MeetingsRow;
  band: boolean;
  others: number;
  above?: MeetingsRow;
  below?: MeetingsRow;
  /** The row of an id that was dropped here. */
  dropped: (id: string) => MeetingsRow | undefined;
  onPlace: (row: MeetingsRow, past: MeetingsRow, isBefore: boolean) => void;
  onPress: (id: string) => void;
};

function Row({ row, band, others, above, below, dropped, onPlace, onPress }: RowProps) {
  const [isOver, setOver] = useState(false);
  return (
    <li
      className={`flex items-baseline gap-3 px-4 py-0.5 ${band ? 'bg-band' : ''} ${isOver ? 'border-ink border-t-2' : ''}`}
      data-testid="stacking-row"
      draggable
      onDragStart={(event) => event.dataTransfer.setData('text/plain', row.id)}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        const moved = dropped(event.dataTransfer.getData('text/plain'));
        if (moved && moved.id !== row.id) onPlace(moved, row, true);
      }}
    >
      <button
        type="button"
        className="min-h-6 min-w-0 flex-1 truncate text-left font-medium hover:underline"
        data-walked={row.id}
        aria-keyshortcuts="Alt+ArrowUp Alt+ArrowDown"
        onKeyDown={(event) => {
          if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return;
          event.preventDefault();
          event.stopPropagation();
          const past = event.key === 'ArrowUp' ? above : below;
          if (past) onPlace(row, past, event.key === 'ArrowUp');
        }}
        onClick={() => onPress(row.id)}
      >
        {row.name}
      </button>
      {row.isDraft && <span className="text-faded">as it is being written</span>}
      <span className="text-faded">rank {row.rank}</span>
      <span className="w-32 text-right text-tape">{row.meets == null ? '' : `meets ${row.meets} of ${others}`}</span>
    </li>
  );
}

const VERDICTS: [verdict: string, words: string][] = [
  ['can', 'meets'],
  ['wins', 'wins over'],
  ['loses', 'loses to'],
  ['never', 'never meets'],
  ['notFound', 'no cart found'],
  ['', 'being looked at'],
];

type AroundProps = { id: string; onAll: () => void; onPress: (id: string) => void } & Props;

function Around({ id, onAll, onPress, onDraft }: AroundProps) {
  const { data, error } = useMeetingsOf(id);
  const list = useRowFocus();
  const table = useMeetings();
  const { open } = useCart();
  const [shown, setShown] = useState('');
  const isDraft = table.data?.rows.find((row) => row.id === id)?.isDraft ?? false;
  const show = async (pair: Pick<MeetingPair, 'id' | 'isDraft' | 'cart'>) => {
    if (!pair.cart) return;
    setShown(pair.id);
    open({ id: '', name: '', cart: pair.cart as unknown as Cart, who: whoOf(pair.cart as unknown as Cart) });
    const written = isDraft ? id : pair.isDraft ? pair.id : null;
    if (!written) return onDraft(null);
    const page = await answered<PromotionPage>(api.GET('/api/promotions/{id}', { params: { path: { id: written } } }));
    onDraft({ id: written, document: page.document as Json });
  };
  return (
    <>
      <header className="border-b border-rule px-4 pt-2 pb-1.5">
        <div className="flex items-baseline gap-4">
          <h1 className="min-w-0 flex-1 truncate text-[17px] font-medium">{data?.name ?? id}</h1>
          <button type="button" className="word" onClick={onAll}>
            all promotions
          </button>
          <Link href={`/promotions/${id}`} className="word">
            its rule
          </Link>
        </div>
        <p className="text-faded">Whom it meets in one cart. Press one that it meets, and the cart that shows it lies on the tape.</p>
      </header>
      <div ref={list} className="min-h-0 flex-1 overflow-y-auto pb-4">
        {error && <p className="px-4 py-2 text-doubt">⚠ {error.message}</p>}
        {data?.most && data.most.names.length > 2 && (
          <p className={`px-4 pt-2 ${shown === '*' ? 'bg-press' : ''}`} data-testid="most-met">
            <button type="button" className="word" onClick={() => show({ id: '*', isDraft: false, cart: data.most?.cart })}>
              the most in one cart: {data.most.names.length}
            </button>{' '}
            {data.most.together} together
            {data.most.margin != null && (
              <span className={data.most.isBelowFloor ? 'font-medium text-doubt' : ''}>
                , {data.most.isBelowFloor && '⚠ '}margin {data.most.margin} %
              </span>
            )}
            <span className="block text-faded leading-4">{data.most.names.join(' · ')}</span>
          </p>
        )}
        {data &&
          VERDICTS.map(([verdict, words]) => {
            const pairs = data.pairs.filter((pair) => (pair.verdict ?? '') === verdict);
            return (
              pairs.length > 0 && (
                <section key={verdict} aria-label={words} data-testid={`meets-${verdict || 'open'}`}>
                  <h2 className="head-word border-b border-ink px-4 pt-3">
                    {words} {pairs.length}
                  </h2>
                  <ul>
                    {pairs.map((pair, place) => (
                      <PairRow
                        key={pair.id}
                        id={id}
                        pair={pair}
                        band={place % 2 === 0}
                        isShown={shown === pair.id}
                        families={table.data?.families ?? []}
                        onShow={() => show(pair)}
                        onPress={() => onPress(pair.id)}
                      />
                    ))}
                  </ul>
                </section>
              )
            );
          })}
      </div>
    </>
  );
}

type PairProps = {
  id: string;
  pair: MeetingPair;
  band: boolean;
  isShown: boolean;
  families: string[];
  onShow: () => void;
  onPress: () => void;
};

function PairRow({ id, pair, band, isShown, families, onShow, onPress }: PairProps) {
  return (
    <li className={`px-4 py-0.5 ${isShown ? 'bg-press' : band ? 'bg-band' : ''}`} data-testid="stacking-pair">
      <div className="flex items-baseline gap-3">
        <button
          type="button"
          className="min-h-6 min-w-0 flex-1 truncate text-left font-medium hover:underline"
          data-walked={pair.id}
          aria-current={isShown || undefined}
          onClick={pair.cart ? onShow : onPress}
        >
          {pair.name}
        </button>
        {pair.isDraft && <span className="text-faded">as it is being written</span>}
        {pair.together && <span className="font-mono text-red text-tape">{pair.together} together</span>}
        {pair.margin != null && (
          <span className={`font-mono text-tape ${pair.isBelowFloor ? 'font-medium text-doubt' : 'text-faded'}`}>
            {pair.isBelowFloor && '⚠ '}margin {pair.margin} %
          </span>
        )}
        {pair.verdict && <Change id={id} pair={pair} families={families} />}
        <button type="button" className="word" onClick={onPress} aria-label={`whom it meets: ${pair.name}`}>
          whom it meets
        </button>
      </div>
      {pair.why && <p className="text-faded leading-4">{pair.why}</p>}
    </li>
  );
}

const whoOf = (cart: Cart) => {
  const { id, groups } = cart.shopper ?? {};
  if (!cart.shopper) return 'Guest';
  return id ?? (groups && groups.length > 0 ? `somebody in ${groups.join(' and ')}` : 'somebody signed in');
};

// From row to row, whatever heading it stands under.
function walk(by: number, within: HTMLElement) {
  const rows = [...within.querySelectorAll<HTMLElement>('[data-walked]')];
  const at = rows.indexOf(document.activeElement as HTMLElement);
  rows[at < 0 ? 0 : Math.min(Math.max(at + by, 0), rows.length - 1)]?.focus();
}
