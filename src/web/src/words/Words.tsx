import { useDeferredValue, useState } from 'react';
import type { WordRow } from '../api/client';
import { useWords } from '../api/queries';
import { useShopContext } from '../shop/shop';
import { Choice } from '../ui/Choice';
import { Find } from '../ui/Find';
import { RenameWord } from './RenameWord';

const KINDS = [
  { value: 'group', words: 'groups of shoppers' },
  { value: 'tag', words: 'tags' },
  { value: 'brand', words: 'brands' },
  { value: 'option', words: 'sizes, colours and other options' },
  { value: 'channel', words: 'sales channels' },
  { value: 'family', words: 'families of promotions' },
];

/** The shop's words of a kind with what holds each; one that gets another name gets it everywhere at once. */
export function Words() {
  const [kind, setKind] = useState('group');
  const [typed, setTyped] = useState('');
  const q = useDeferredValue(typed.trim());
  const { data, error } = useWords(kind, q);
  const { format } = useShopContext();
  const rows = data?.words ?? [];
  return (
    <section aria-label="Names that stand in many places" data-testid="words">
      <h2 className="head-word px-4 pt-4">names that stand in many places</h2>
      <p className="flex flex-wrap items-baseline gap-x-4 px-4 leading-[26px]">
        <Choice label="Which names" value={kind} options={KINDS} onChange={setKind} />
        <Find label="Find a name" placeholder="type to find" className="min-w-0 flex-1" value={typed} onType={setTyped} />
      </p>
      <p className="px-4 text-faded">
        Renaming one changes goods, shoppers, rules, drafts and carts at once. Lists that still say the old name are read as the new one.
      </p>
      {error && <p className="px-4 text-doubt">⚠ {error.message}</p>}
      {data && rows.length === 0 && <p className="px-4 text-faded">{q ? 'None is called so.' : 'There are none yet.'}</p>}
      <ul>
        {rows.map((row) => (
          <li
            key={`${row.option} ${row.word}`}
            className="flex flex-wrap items-baseline gap-x-3 px-4 leading-[26px] odd:bg-band"
            data-testid="word"
          >
            <span className="min-w-0 flex-1 truncate">
              {row.option && <span className="text-faded">{row.option} </span>}
              {row.word}
            </span>
            <span className="text-faded">{held(row, format.number)}</span>
            <RenameWord kind={kind} option={row.option} word={row.word} />
          </li>
        ))}
      </ul>
      {data && data.count > rows.length && (
        <p className="px-4 text-faded">{format.number(data.count - rows.length)} more: type to find them.</p>
      )}
    </section>
  );
}

// What holds a word; what is none is not said.
function held(row: WordRow, number: (value: number) => string): string {
  const parts = [
    part(row.items, 'item', number),
    part(row.shoppers, 'shopper', number),
    part(row.promotions, 'promotion', number),
    part(row.carts, 'cart', number),
  ].filter(Boolean);
  return parts.length > 0 ? parts.join(', ') : 'nothing yet';
}

const part = (count: number, what: string, number: (value: number) => string) =>
  count === 0 ? '' : `${number(count)} ${what}${count === 1 ? '' : 's'}`;
