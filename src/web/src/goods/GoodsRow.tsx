import { type ClipboardEvent, type KeyboardEvent, useState } from 'react';
import type { GoodsItem } from '../api/client';
import { useShopContext } from '../shop/shop';
import { toAmount } from '../ui/numbers';
import { Typed } from '../ui/Typed';
import { press } from './pressed';

/** How high a row is, in pixels. */
export const ROW = 26;

/** The columns of a list of goods that are typed over, in their order. */
export const CELLS = ['regular', 'price', 'cost', 'stock'] as const;

export type Cell = (typeof CELLS)[number];

/** How wide each is; where there is no room for all, price and stock stay. */
export const WIDTHS: Record<Cell, string> = {
  regular: 'w-[4.75rem]',
  price: 'w-[4.75rem] @max-[560px]:hidden',
  cost: 'w-[4.75rem] @max-[560px]:hidden',
  stock: 'w-16',
};

const NAMES: Record<Cell, string> = { regular: 'Regular price', price: 'Reduced price', cost: 'Cost', stock: 'Stock' };
const EMPTY: Record<Cell, string> = { regular: '', price: '—', cost: '—', stock: 'no limit' };

/** What a cell holds, as it is written. */
export const cellOf = (item: GoodsItem, cell: Cell) => (item[cell] == null ? '' : String(item[cell]));

/** What was typed, as the member that is written; nothing empties it. */
export function memberOf(cell: Cell, text: string): string | number | null {
  if (text.trim() === '') return null;
  if (cell !== 'stock') return toAmount(text) ?? null;
  const digits = toAmount(text) ?? '';
  return /^\d+$/.test(digits) ? Number(digits) : text;
}

type Props = {
  item: GoodsItem;
  place: number;
  top: number;
  isPressed: boolean;
  trouble?: string;
  /** Whether it was taken. */
  onWrite: (cell: Cell, text: string) => Promise<boolean>;
  onMove: (place: number, cell: number) => void;
  onPaste: (place: number, cell: number, text: string) => void;
};

/** An item in the list, on greenbar: its prices, cost and stock are typed over as in a spreadsheet. */
export function GoodsRow({ item, place, top, isPressed, trouble, onWrite, onMove, onPaste }: Props) {
  const { info, format } = useShopContext();
  const [typed, setTyped] = useState<{ cell: Cell; text: string } | null>(null);
  // What is refused stays as it was typed, to be mended.
  const keep = async (cell: Cell) => {
    if (typed?.cell !== cell) return;
    const isOther = memberOf(cell, typed.text) !== memberOf(cell, cellOf(item, cell));
    if (!isOther || (await onWrite(cell, typed.text))) setTyped((old) => (old === typed ? null : old));
  };
  const keys = (event: KeyboardEvent<HTMLInputElement>, cell: number) => {
    if (event.altKey || event.ctrlKey || event.metaKey) return;
    const { selectionStart, selectionEnd, value } = event.currentTarget;
    const isWhole = selectionStart === 0 && selectionEnd === value.length;
    if (event.key === 'ArrowUp') onMove(place - 1, cell);
    else if (event.key === 'ArrowDown' || event.key === 'Enter') onMove(place + 1, cell);
    else if (event.key === 'ArrowLeft' && (isWhole || selectionEnd === 0)) onMove(place, cell - 1);
    else if (event.key === 'ArrowRight' && (isWhole || selectionStart === value.length)) onMove(place, cell + 1);
    else return;
    event.preventDefault();
  };
  const paste = (event: ClipboardEvent, cell: number) => {
    const text = event.clipboardData.getData('text/plain');
    if (!/[\t\n]/.test(text.trimEnd())) return;
    event.preventDefault();
    onPaste(place, cell, text);
  };
  return (
    <div
      role="row"
      aria-rowindex={place + 2}
      data-testid="goods-row"
      className={`absolute inset-x-0 flex items-baseline gap-2 border-b border-rule px-4 leading-[25px] ${place % 2 === 0 ? 'bg-band' : ''} ${isPressed ? '!bg-press' : ''}`}
      style={{ top, height: ROW }}
    >
      <span role="gridcell" className="min-w-0 flex-1 truncate">
        <button type="button" className="w-full truncate text-left" title={`${item.name} (${item.sku})`} onClick={() => press(item.sku)}>
          {item.name} <span className="font-mono text-[11px] text-faded">{item.sku}</span>
        </button>
      </span>
      {CELLS.map((cell, at) => (
        <span key={cell} role="gridcell" data-goods-cell={`${place},${at}`} className={WIDTHS[cell]}>
          <Typed
            label={`${NAMES[cell]} of ${item.name}`}
            className="part w-full text-right font-normal"
            inputMode={cell === 'stock' ? 'numeric' : 'decimal'}
            placeholder={EMPTY[cell]}
            wanting={trouble !== undefined && typed?.cell === cell}
            value={
              typed?.cell === cell
                ? typed.text
                : cell === 'stock'
                  ? cellOf(item, cell)
                  : shown(cellOf(item, cell), info.currency, format.plain)
            }
            onFocus={() => press(item.sku)}
            onType={(text) => setTyped({ cell, text })}
            onBlur={() => keep(cell)}
            onKeyDown={(event) => keys(event, at)}
            onPaste={(event) => paste(event, at)}
          />
        </span>
      ))}
      <span
        role="gridcell"
        className={`w-14 text-right @max-[560px]:hidden ${item.margin != null && item.margin < (info.marginFloor ?? 0) ? 'text-doubt' : 'text-faded'}`}
      >
        {item.margin == null ? '' : `${format.number(item.margin)} %`}
      </span>
    </div>
  );
}

const shown = (amount: string, currency: string, plain: (amount: string, currency: string) => string) =>
  amount === '' ? '' : plain(amount, currency);
