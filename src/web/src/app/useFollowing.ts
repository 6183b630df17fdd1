import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';

const FOLLOWED = ['promotions', 'orders', 'order', 'codes', 'batches', 'stock', 'keys', 'goods', 'items', 'terms', 'import', 'shop'];

/** When anything was written, by whomever, the lists are read anew. */
export function useFollowing(stamp: number | undefined) {
  const queries = useQueryClient();
  const seen = useRef(stamp);
  useEffect(() => {
    if (seen.current !== undefined && stamp !== undefined && seen.current !== stamp)
      for (const key of FOLLOWED) queries.invalidateQueries({ queryKey: [key] });
    seen.current = stamp ?? seen.current;
  }, [stamp, queries]);
}
