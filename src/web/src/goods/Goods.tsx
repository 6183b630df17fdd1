import { useQueryClient } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useDeferredValue, useEffect, useRef, useState } from 'react';
import type { Effect, GoodsItem } from '../api/client';
import { GOODS_AT_ONCE, useGoods, useGoodsCategories, useImport } from '../api/queries';
import { Bring } from '../bringing/Bring';
import { Import } from '../bringing/Import';
import { useActions } from '../ui/actions';
import { Choice } from '../ui/Choice';
import { useFindKey } from '../ui/useFindKey';
import { Categories, inTree } from './Categories';
import { CELLS, type Cell, GoodsRow, memberOf, ROW, WIDTHS } from './GoodsRow';
import { Many } from './Many';
import { NewItem } from './NewItem';
import { usePressed } from './pressed';
import { Steps } from './Steps';
import { type ItemChange, useWriteGoods } from './writing';

const FILTERS = [
  { value: 'any', words: 'all items' },
  { value: 'reduced', words: 'reduced items' },
  { value: 'noCost', words: 'items without a cost' },
  { value: 'out', words: 'items out of stock' },
  { value: 'belowFloor', words: 'items below the margin floor' },
  { value: 'touched', words: 'items that a live promotion touches' },
];

type Open = 'new' | 'many' | 'categories' | 'steps' | null;

/** The shop's goods: a list of any length, edited like a spreadsheet, and the way in for files. */
export function Goods() {
  const [typed, setTyped] = useState('');
  const q = useDeferredValue(typed.trim());
  const [category, setCategory] = useState('any');
  const [filter, setFilter] = useState('any');
  const [open, setOpen] = useState<Open>(null);
  const [parts, setParts] = useState<number[]>([0]);
  const [trouble, setTrouble] = useState<{ sku: string; words: string } | null>(null);
  const [effects, setEffects] = useState<Effect[]>([]);
  const asked = {
    q: q || undefined,
    category: category === 'any' ? undefined : category,
    filter: filter === 'any' ? undefined : filter,
  };
  const { total, all, itemAt, error, isThere } = useGoods(asked, parts);
  const { data: categories = [] } = useGoodsCategories();
  const { data: incoming } = useImport();
  const queries = useQueryClient();
  const isDone = incoming?.state === 'done';
  useEffect(() => {
    if (isDone) queries.invalidateQueries();
  }, [isDone, queries]);
  const write = useWriteGoods();
  const pressed = usePressed();
  const scroll = useRef<HTMLDivElement>(null);
  const search = useRef<HTMLInputElement>(null);
  const virtual = useVirtualizer({ count: total, getScrollElement: () => scroll.current, estimateSize: () => ROW, overscan: 8 });
  const rows = virtual.getVirtualItems();
  const inSight = [...new Set(rows.map((row) => Math.floor(row.index / GOODS_AT_ONCE)))].join();
  useEffect(() => setParts(inSight ? inSight.split(',').map(Number) : [0]), [inSight]);
  useFindKey(search);

  const move = (place: number, cell: number) => {
    if (place < 0 || place >= total || cell < 0 || cell >= CELLS.length) return;
    virtual.scrollToIndex(place);
    requestAnimationFrame(() => scroll.current?.querySelector<HTMLElement>(`[data-goods-cell="${place},${cell}"] input`)?.focus());
  };
  const put = async (items: ItemChange[], what: string) => {
    try {
      setTrouble(null);
      setEffects((await write(items, what)).effects);
      return true;
    } catch (error) {
      setTrouble({ sku: items[0]?.sku ?? '', words: `${what}: ${(error as Error).message}` });
      return false;
    }
  };
  const cellWritten = (item: GoodsItem, cell: Cell, text: string) =>
    put([{ sku: item.sku, [cell]: memberOf(cell, text) }], `${item.name}: ${WORDS[cell]} ${text.trim() || 'taken out'}`);
  const paste = (place: number, cell: number, text: string) => {
    const items: ItemChange[] = [];
    for (const [down, line] of text.replace(/\r\n?/g, '\n').trimEnd().split('\n').entries()) {
      const item = itemAt(place + down);
      if (!item) break;
      const change: ItemChange = { sku: item.sku };
      for (const [along, one] of line.split('\t').entries()) {
        const into = CELLS[cell + along];
        if (into) change[into] = memberOf(into, one);
      }
      items.push(change);
    }
    if (items.length > 0) put(items, `${items.length} items pasted`);
  };

  useActions([
    { words: 'a new item', detail: 'goods', run: () => setOpen('new') },
    { words: 'change many items', detail: 'goods', run: () => setOpen('many') },
    { words: 'categories', detail: 'goods', run: () => setOpen('categories') },
    { words: 'what was done to goods', detail: 'goods', run: () => setOpen('steps') },
    ...FILTERS.map((one) => ({ words: `goods: ${one.words}`, detail: 'goods', run: () => setFilter(one.value) })),
  ]);

  return (
    <section aria-label="Goods" className="flex h-full flex-col" data-testid="goods">
      <header className="flex flex-wrap items-baseline gap-x-4 gap-y-1 border-b border-rule px-4 py-2">
        <h1 className="text-[17px] font-medium">Goods</h1>
        <input
          ref={search}
          className="w-36 flex-1 border-b border-rule bg-transparent px-1 focus:border-ink"
          placeholder="find an item  (f)"
          aria-label="Find items"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === 'ArrowDown' || event.key === 'Enter') move(0, 0);
            else if (event.key === 'Escape' && typed !== '') setTyped('');
            else return;
            event.preventDefault();
          }}
        />
        <Bring />
        <div className="flex w-full flex-wrap items-baseline gap-x-3 leading-[26px] text-faded">
          <span>
            <Choice label="Show" value={filter} options={FILTERS} onChange={setFilter} /> in{' '}
            <Choice
              label="Category"
              value={category}
              options={[
                { value: 'any', words: 'all categories' },
                ...inTree(categories).map(({ depth, ...one }) => ({
                  value: one.id,
                  words: `${'\u2003'.repeat(depth)}${one.name} (${one.items})`,
                })),
              ]}
              onChange={setCategory}
            />
          </span>
          <span className="flex-1">{isThere && all > 0 ? (total === all ? `${all}` : `${total} of ${all}`) : ''}</span>
          <button type="button" className="word" aria-expanded={open === 'new'} onClick={() => setOpen(open === 'new' ? null : 'new')}>
            new item
          </button>
          <button
            type="button"
            className="word"
            aria-expanded={open === 'many'}
            disabled={total === 0}
            onClick={() => setOpen(open === 'many' ? null : 'many')}
          >
            change many
          </button>
          <button
            type="button"
            className="word"
            aria-expanded={open === 'categories'}
            onClick={() => setOpen(open === 'categories' ? null : 'categories')}
          >
            categories
          </button>
          <button
            type="button"
            className="word"
            aria-expanded={open === 'steps'}
            onClick={() => setOpen(open === 'steps' ? null : 'steps')}
          >
            history
          </button>
        </div>
      </header>
      {incoming && <Import key={incoming.id} incoming={incoming} />}
      {open === 'new' && <NewItem onDone={() => setOpen(null)} />}
      {open === 'many' && <Many asked={asked} total={total} onDone={() => setOpen(null)} />}
      {open === 'categories' && <Categories shown={category} onShow={setCategory} />}
      {open === 'steps' && <Steps />}
      <div role="status">
        {trouble && <p className="px-4 text-doubt">⚠ {trouble.words}</p>}
        {effects.map((effect) => (
          <p key={effect.what} className="px-4 text-doubt">
            ⚠ {effect.name}: {effect.what}
          </p>
        ))}
      </div>
      {error && !isThere && <p className="px-4 py-2 text-doubt">⚠ {error.message} The list comes by itself when it does.</p>}
      {isThere && all === 0 && (
        <p className="px-4 py-4">
          There are no goods yet.{' '}
          <span className="text-faded">Bring a list from a file, or type a new item: a SKU, a name and a price.</span>
        </p>
      )}
      {isThere && all > 0 && total === 0 && <p className="px-4 py-4 text-faded">No item matches. Show all items to see them.</p>}
      <div
        ref={scroll}
        role="grid"
        aria-label="Items"
        aria-rowcount={total + 1}
        tabIndex={0}
        className="@container min-h-0 flex-1 overflow-y-auto -outline-offset-2"
      >
        <div role="rowgroup" className="sticky top-0 z-10 bg-paper">
          <div role="row" aria-rowindex={1} className="head-word flex gap-2 border-b border-ink px-4 text-right">
            <span role="columnheader" className="flex-1 text-left">
              item
            </span>
            {CELLS.map((cell) => (
              <span key={cell} role="columnheader" className={WIDTHS[cell]}>
                {HEADS[cell]}
              </span>
            ))}
            <span role="columnheader" className="w-14 @max-[560px]:hidden">
              margin
            </span>
          </div>
        </div>
        <div style={{ height: virtual.getTotalSize(), position: 'relative' }} role="rowgroup">
          {rows.map((row) => {
            const item = itemAt(row.index);
            return item ? (
              <GoodsRow
                key={item.sku}
                item={item}
                place={row.index}
                top={row.start}
                isPressed={pressed === item.sku}
                trouble={trouble?.sku === item.sku ? trouble.words : undefined}
                onWrite={(cell, text) => cellWritten(item, cell, text)}
                onMove={move}
                onPaste={paste}
              />
            ) : (
              <div
                key={row.key}
                role="presentation"
                className={`absolute inset-x-0 border-b border-rule ${row.index % 2 === 0 ? 'bg-band' : ''}`}
                style={{ top: row.start, height: ROW }}
              />
            );
          })}
        </div>
      </div>
    </section>
  );
}

const HEADS: Record<Cell, string> = { regular: 'regular', price: 'reduced', cost: 'cost', stock: 'stock' };

const WORDS: Record<Cell, string> = { regular: 'regular price', price: 'reduced price', cost: 'cost', stock: 'stock' };
