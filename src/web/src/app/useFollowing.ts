import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';

/** What any write may change. */
export const LISTS = ['promotions', 'orders', 'order', 'codes', 'batches', 'stock', 'keys', 'goods', 'import', 'shoppers'];

/** What goods and settings change: more of the page hangs on it. */
export const SHOP = ['shop', 'settings', 'items', 'terms'];

/** When a number has changed, by whomever, what it counts the changes of is read anew. */
export function useFollowing(number: number | undefined, keys: string[]) {
  const queries = useQueryClient();
  const seen = useRef(number);
  useEffect(() => {
    if (seen.current !== undefined && number !== undefined && seen.current !== number)
      for (const key of keys) queries.invalidateQueries({ queryKey: [key] });
    seen.current = number ?? seen.current;
  }, [number, keys, queries]);
}
