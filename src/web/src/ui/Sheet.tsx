import { type ClipboardEvent, type KeyboardEvent, type ReactNode, useRef } from 'react';
import { flushSync } from 'react-dom';
import { Typed } from './Typed';

export type Column<Row> = {
  head: string;
  /** A cell that is typed, as in a spreadsheet. */
  text?: {
    get: (row: Row) => string;
    /** `before`: the row as it was when one began to type in the cell; `rows`: all of them. */
    set: (row: Row, text: string, before: Row, rows: Row[]) => Row;
    placeholder?: string;
    inputMode?: 'numeric' | 'decimal';
  };
  /** Any other cell. */
  cell?: (row: Row, place: number) => ReactNode;
  wanting?: (place: number) => boolean;
};

type Props<Row> = {
  label: string;
  rows: Row[];
  columns: Column<Row>[];
  onRows: (rows: Row[]) => void;
  /** The row that comes after the last one. */
  fresh: (last: Row | undefined) => Row;
  /** What a row is called: "step". */
  row: string;
  /** How many rows there are at least. */
  least?: number;
};

/**
 * A small table that is edited like a spreadsheet: arrows move, Enter goes down and begins a new row after the last, Tab goes on, and
 * several rows and columns can be pasted from anywhere.
 */
export function Sheet<Row>({ label, rows, columns, onRows, fresh, row: name, least = 1 }: Props<Row>) {
  const table = useRef<HTMLTableElement>(null);
  const before = useRef<Row | undefined>(undefined);
  // At once, so that what is typed next goes where it is meant.
  const focus = (row: number, column: number) => table.current?.querySelector<HTMLElement>(`[data-cell="${row},${column}"] input`)?.focus();
  const change = (place: number, row: Row) => onRows(rows.map((old, at) => (at === place ? row : old)));
  const add = () => flushSync(() => onRows([...rows, fresh(rows.at(-1))]));

  const keys = (event: KeyboardEvent<HTMLInputElement>, row: number, column: number) => {
    if (event.altKey || event.ctrlKey || event.metaKey) return;
    const { selectionStart, selectionEnd, value } = event.currentTarget;
    const all = selectionStart === 0 && selectionEnd === value.length;
    if (event.key === 'ArrowUp' && row > 0) focus(row - 1, column);
    else if (event.key === 'ArrowDown' && row < rows.length - 1) focus(row + 1, column);
    else if (event.key === 'ArrowLeft' && (all || selectionEnd === 0) && columns[column - 1]?.text) focus(row, column - 1);
    else if (event.key === 'ArrowRight' && (all || selectionStart === value.length) && columns[column + 1]?.text) focus(row, column + 1);
    else if (event.key === 'Enter') {
      if (row === rows.length - 1) add();
      focus(row + 1, columns[column]?.text ? column : 0);
    } else return;
    event.preventDefault();
  };

  const paste = (event: ClipboardEvent, row: number, column: number) => {
    const text = event.clipboardData.getData('text/plain').replace(/\r\n?/g, '\n').replace(/\n$/, '');
    if (!/[\t\n]/.test(text)) return;
    event.preventDefault();
    const next = [...rows];
    for (const [down, line] of text.split('\n').entries()) {
      let into = next[row + down] ?? fresh(next.at(-1));
      for (const [along, cell] of line.split('\t').entries())
        into = columns[column + along]?.text?.set(into, cell.trim(), into, next) ?? into;
      next[row + down] = into;
    }
    onRows(next);
  };

  return (
    <div className="my-1">
      <table ref={table} aria-label={label} className="border-collapse">
        <thead>
          <tr>
            {columns.map((column) => (
              <th key={column.head} scope="col" className="head-word border-b border-ink px-2 text-left font-normal">
                {column.head}
              </th>
            ))}
            <th className="w-6 border-b border-ink">
              <span className="sr-only">take out</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row, place) => (
            // A row is known by its place; its fields keep their own text.
            <tr key={place} className="border-b border-rule align-baseline">
              {columns.map((column, along) => (
                <td key={column.head} data-cell={`${place},${along}`} className="px-2 py-0.5 [&_button.part]:whitespace-nowrap">
                  {column.text ? (
                    <Typed
                      label={`${column.head}, ${name} ${place + 1}`}
                      className="part fitted"
                      placeholder={column.text.placeholder}
                      inputMode={column.text.inputMode}
                      wanting={column.wanting?.(place)}
                      value={column.text.get(row)}
                      onType={(text) => column.text && change(place, column.text.set(row, text, before.current ?? row, rows))}
                      onFocus={() => {
                        before.current = row;
                      }}
                      onKeyDown={(event) => keys(event, place, along)}
                      onPaste={(event) => paste(event, place, along)}
                    />
                  ) : (
                    column.cell?.(row, place)
                  )}
                </td>
              ))}
              <td>
                {rows.length > least && (
                  <button
                    type="button"
                    className="px-1 text-faded hover:text-ink"
                    aria-label={`Take ${name} ${place + 1} out`}
                    onClick={() => {
                      flushSync(() => onRows(rows.filter((_, at) => at !== place)));
                      focus(Math.max(0, place - 1), 0);
                    }}
                  >
                    ×
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <button
        type="button"
        className="word"
        onClick={() => {
          add();
          focus(rows.length, 0);
        }}
      >
        another {name}
      </button>
    </div>
  );
}
