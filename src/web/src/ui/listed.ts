/** How a list that opens from a word looks. */
export const LISTED = 'z-30 border border-ink bg-paper py-1 shadow-lift';

/** How a row of it looks, and the one that would be taken. */
export const LISTED_ROW =
  'cursor-pointer px-3 py-0.5 outline-none data-[disabled]:cursor-default data-[disabled]:text-faded data-[highlighted]:bg-press';
