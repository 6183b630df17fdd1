import { useDeferredValue, useRef, useState } from 'react';
import { useSearchParams } from 'wouter';
import { useImport, useShopperPage } from '../api/queries';
import { Bring } from '../bringing/Bring';
import { Import } from '../bringing/Import';
import { useShopContext } from '../shop/shop';
import { Choice } from '../ui/Choice';
import { Find } from '../ui/Find';
import { More } from '../ui/More';
import { useFindKey } from '../ui/useFindKey';
import { RenameWord } from '../words/RenameWord';
import { NewShopper } from './NewShopper';

/** The shop's shoppers by name, found by typing or by group; the one that is pressed lies on the right page. */
export function Shoppers() {
  const { format, info } = useShopContext();
  const [query, setQuery] = useSearchParams();
  const open = query.get('shopper');
  const [typed, setTyped] = useState(query.get('q') ?? '');
  const [group, setGroup] = useState('');
  const [isMaking, setIsMaking] = useState(false);
  const find = useRef<HTMLInputElement>(null);
  const q = useDeferredValue(typed.trim());
  const page = useShopperPage(q, group);
  const { data, error } = page;
  const rows = data?.pages.flatMap((page) => page.shoppers) ?? [];
  const first = data?.pages[0];
  const groups = first?.groups ?? [];
  const { data: incoming } = useImport();
  const press = (id: string) => setQuery({ shopper: id }, { replace: true });

  useFindKey(find);

  return (
    <section aria-label="Shoppers" className="flex h-full flex-col" data-testid="shoppers">
      <header className="border-b border-rule px-4 pt-2 pb-1.5">
        <span className="flex items-baseline gap-4">
          <h1 className="text-[17px] font-medium">Shoppers</h1>
          <Find
            ref={find}
            label="Find a shopper"
            placeholder="a name, a number, a group"
            className="min-w-0 flex-1"
            value={typed}
            onType={setTyped}
          />
          <Choice
            label="Group"
            value={group === '' ? ' ' : group}
            options={[
              { value: ' ', words: 'in any group or none' },
              ...groups.map((one) => ({ value: one.name, words: `${one.name}, ${format.number(one.shoppers)}` })),
            ]}
            onChange={(next) => setGroup(next.trim())}
          />
        </span>
        <span className="mt-1.5 flex items-baseline gap-4 leading-[26px] text-faded">
          <span className="flex-1">
            {first &&
              (first.count === first.all
                ? `${format.number(first.all)} in all`
                : `${format.number(first.count)} of ${format.number(first.all)}`)}
          </span>
          {group !== '' && <RenameWord key={group} kind="group" word={group} onRenamed={setGroup} />}
          <button type="button" className="word" aria-expanded={isMaking} onClick={() => setIsMaking(!isMaking)}>
            a new shopper…
          </button>
          <Bring label="A list of shoppers" quiet />
        </span>
      </header>
      {incoming && <Import key={incoming.id} incoming={incoming} />}
      {isMaking && <NewShopper groups={groups.map((one) => one.name)} onMade={press} />}
      <div className="min-h-0 flex-1 overflow-y-auto pb-4">
        {error && <p className="px-4 py-2 text-doubt">⚠ {error.message}</p>}
        {data && rows.length === 0 && (
          <p className="px-4 py-3 text-faded">
            {first?.all === 0
              ? 'Nobody is known yet. Bring a list, write one in, or let your shop’s server send them.'
              : 'Nobody matches. Try fewer letters, or any group.'}
          </p>
        )}
        <ul>
          {rows.map((one) => (
            <li key={one.id} className={open === one.id ? 'bg-press' : 'odd:bg-band'} data-testid="shopper">
              <button
                type="button"
                aria-current={open === one.id || undefined}
                className="flex w-full items-baseline gap-3 px-4 text-left leading-6 hover:bg-press"
                onClick={() => press(one.id)}
              >
                <span className="min-w-0 flex-1 truncate font-medium">{one.name}</span>
                <span className="min-w-0 max-w-40 truncate text-faded">{one.groups.join(', ')}</span>
                <span className="w-20 shrink-0 text-right text-faded">
                  {one.orders === 1 ? '1 order' : `${format.number(one.orders)} orders`}
                </span>
                <span className="w-24 shrink-0 text-right font-mono text-tape">{format.money(one.spent, info.currency)}</span>
              </button>
            </li>
          ))}
        </ul>
        <More words="more of them" list={page} />
      </div>
    </section>
  );
}
