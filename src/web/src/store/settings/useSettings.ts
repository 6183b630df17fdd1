import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { answered, api, type Json, type Problem, Refused, type SettingsLook, type ShopDocuments } from '../../api/client';
import { useShopContext } from '../../shop/shop';
import { useStep } from '../../shop/useStep';
import { useCart } from '../../tape/cart';
import { announce } from '../../ui/announce';
import { isSame } from '../../ui/same';
import { useSettled } from '../../ui/useSettled';
import type { Store, Words } from './documents';

/** Which of the two documents a member stands in. */
export type Which = 'settings' | 'store';

type Written = { settings: Json; store: Json };

const NOTHING: Written = { settings: {}, store: {} };

export type Settings = ReturnType<typeof useSettings>;

/** The shop's settings while they are written: kept as typed, looked at with every change, written by the stamp. */
export function useSettings() {
  const { info } = useShopContext();
  const queries = useQueryClient();
  const step = useStep();
  const { cart } = useCart();
  const { data, error } = useQuery({
    queryKey: ['settings'],
    queryFn: ({ signal }) => answered<ShopDocuments>(api.GET('/api/settings', { signal })),
  });
  const storage = `rapid-ledger.settings ${info.name}`;
  const [written, setWritten] = useState<Written>(() => kept(storage));
  const [problems, setProblems] = useState<Problem[]>([]);
  const [failure, setFailure] = useState('');
  const [busy, setBusy] = useState(false);
  const stands = useMemo(() => ({ settings: (data?.settings ?? {}) as Json, store: (data?.store ?? {}) as Json }), [data]);

  // What is the same as what stands is no change.
  const changed = useMemo(() => differing(written, stands), [written, stands]);
  const hasChanges = data !== undefined && Object.keys({ ...changed.settings, ...changed.store }).length > 0;
  useEffect(() => {
    if (hasChanges) localStorage.setItem(storage, JSON.stringify(changed));
    else if (data !== undefined) localStorage.removeItem(storage);
  }, [changed, hasChanges, storage, data]);

  const change = useCallback((which: Which, member: string, value: unknown) => {
    setProblems([]);
    setFailure('');
    // Null empties a member; what is left out stays as it is.
    setWritten((old) => ({ ...old, [which]: { ...old[which], [member]: value ?? null } }));
  }, []);
  const asking = JSON.stringify({ ...changed, cart: cart.lines.length > 0 ? cart : null });
  const asked = useSettled(asking);
  const look = useQuery({
    queryKey: ['settings', 'look', asked],
    enabled: hasChanges,
    queryFn: ({ signal }) =>
      answered<SettingsLook>(api.POST('/api/settings/look', { signal, body: { number: null, ...JSON.parse(asked) } as never })),
  });

  const stamp = async () => {
    if (busy || !data) return;
    setBusy(true);
    try {
      const body = changed;
      let number: number | null = data.number;
      await step('the settings', () => {
        const written = answered<{ step: number | null }>(api.POST('/api/settings', { body: { number, ...body, cart: null } as never }));
        // What is done again goes over whatever stands then.
        number = null;
        return written;
      });
      setWritten(NOTHING);
      setProblems([]);
      setFailure('');
      announce('The settings are changed. They hold from the next price on.');
    } catch (fault) {
      if (fault instanceof Refused) setProblems(fault.problems.filter((problem) => problem.at !== ''));
      setFailure((fault as Error).message);
      await queries.invalidateQueries({ queryKey: ['settings'] });
    } finally {
      setBusy(false);
    }
  };

  return {
    isRead: data !== undefined,
    error,
    // What was read is what the server reads by itself: its form is that of a case's store.
    settings: { ...stands.settings, ...without(changed.settings) } as unknown as Words,
    store: { ...stands.store, ...without(changed.store) } as unknown as Store,
    stands: stands as unknown as { settings: Words; store: Store },
    change,
    hasChanges,
    problems: problems.length > 0 ? problems : hasChanges ? (look.data?.problems ?? []) : [],
    look: hasChanges ? look.data : undefined,
    // What it does is known of what is written now only, not of what was written a moment ago.
    isLooking: hasChanges && (asked !== asking || look.isFetching),
    failure: failure || (hasChanges && look.error ? look.error.message : ''),
    busy,
    stamp,
    putBack: () => {
      setProblems([]);
      setFailure('');
      setWritten(NOTHING);
    },
  };
}

function differing(written: Written, stands: Written): Written {
  const of = (which: Which) =>
    Object.fromEntries(Object.entries(written[which]).filter(([member, value]) => !isSame(value ?? undefined, stands[which][member])));
  return { settings: of('settings'), store: of('store') };
}

// A member that was emptied is as if it were not there.
const without = (members: Json) => Object.fromEntries(Object.entries(members).map(([name, value]) => [name, value ?? undefined]));

function kept(storage: string): Written {
  try {
    return { ...NOTHING, ...JSON.parse(localStorage.getItem(storage) ?? '{}') };
  } catch {
    return NOTHING;
  }
}
