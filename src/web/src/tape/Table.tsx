import type { ReactNode } from 'react';

type Props = {
  name: string;
  columns: string[] /** The head as it is seen; else it is only heard. */;
  head?: ReactNode;
  children: ReactNode;
};

/** Rows that are laid out freely, read out as a table. */
export function Table({ name, columns, head, children }: Props) {
  return (
    <div role="table" aria-label={name}>
      {head ?? (
        <div role="row" className="sr-only">
          {columns.map((column) => (
            <span key={column} role="columnheader">
              {column}
            </span>
          ))}
        </div>
      )}
      {children}
    </div>
  );
}

/** What stands across all columns of a row. */
export function Across({ children }: { children: ReactNode }) {
  return (
    <div role="row">
      <div role="cell">{children}</div>
    </div>
  );
}
