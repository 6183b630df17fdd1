import { lazy, type ReactNode, Suspense, useCallback, useMemo, useState } from 'react';
import { Redirect, Route, Switch } from 'wouter';
import type { Json } from '../api/client';
import { useNowLive, useShop } from '../api/queries';
import { ShopProvider } from '../shop/shop';
import { CartProvider, useCart } from '../tape/cart';
import { Tape } from '../tape/Tape';
import { usePrint } from '../tape/usePrint';
import { Announced } from '../ui/announce';
import { History, HistoryProvider } from '../ui/undo';
import { useTitle } from '../ui/useTitle';
import { Away } from './Away';
import { CommandLine } from './CommandLine';
import { Head } from './Head';
import { KeysOfThePage } from './Keys';
import { PLACES, type Place, type Shared, usePlace } from './places';
import { Spread } from './Spread';
import { TakenBack } from './TakenBack';
import { useFocusAtPlace } from './useFocusAtPlace';
import { LISTS, SHOP, useFollowing } from './useFollowing';

const OpenShop = lazy(async () => ({ default: (await import('../opening/OpenShop')).OpenShop }));

export function App() {
  const { data: info, error } = useShop();
  const history = useMemo(() => new History(), []);
  if (!info)
    return (
      <p className="p-6 text-body">
        {error
          ? 'The server does not answer. Start it with “make demo” or “rapid-ledger serve”; this page opens by itself when it does.'
          : 'Opening the ledger…'}
      </p>
    );
  if (!info.isThere)
    return (
      <Opening>
        <OpenShop />
      </Opening>
    );
  return (
    <ShopProvider info={info}>
      <HistoryProvider value={history}>
        <CartProvider>
          <Ledger />
        </CartProvider>
      </HistoryProvider>
    </ShopProvider>
  );
}

// What no key at the desk changes is not drawn again with it.
const HEAD = <Head isAlone={false} />;
const HEAD_ALONE = <Head isAlone />;
const AWAY = <Away />;
const AROUND = (
  <>
    <TakenBack />
    <Announced />
    <CommandLine />
    <KeysOfThePage />
  </>
);

function Ledger() {
  const { cart } = useCart();
  const [draft, setDraft] = useState<{ id: string; document: Json } | null>(null);
  // The page that was written last is still at hand at the counter.
  const [last, setLast] = useState<Json | null>(null);
  const [asIfLive, setAsIfLive] = useState(false);
  const place = usePlace();
  const isAlone = place?.isAlone ?? false;
  const shown = draft?.document ?? (isAlone && asIfLive ? last : null);
  const { data: live } = useNowLive();
  useFollowing(live?.stamp, LISTS);
  useFollowing(live && Math.max(live.goods, live.settings), SHOP);
  useFocusAtPlace();
  const printed = usePrint(cart, shown, live && `${live.edition?.number} ${live.uses} ${live.goods} ${live.settings}`);
  const onDraft = useCallback((next: { id: string; document: Json } | null) => {
    setDraft(next);
    if (next) setLast(next.document);
  }, []);
  const tape = <Tape printed={printed} draft={printed.of} />;
  const shared: Shared = { printed, onDraft, written: last, asIfLive, onAsIfLive: setAsIfLive };
  return (
    <div className="flex h-full flex-col">
      {isAlone ? HEAD_ALONE : HEAD}
      {AWAY}
      <Spread
        left={
          <Opening>
            <Switch>
              {PLACES.map((one) => (
                <Route key={one.path} path={one.path}>
                  {(params) => <Page place={one}>{one.page(shared, params)}</Page>}
                </Route>
              ))}
              <Route>
                <Redirect to="/promotions" replace />
              </Route>
            </Switch>
          </Opening>
        }
        right={place?.right ? <Opening>{place.right.page(tape, shared)}</Opening> : tape}
        rightName={place?.right?.name ?? 'the tape'}
        isAlone={isAlone}
      />
      {AROUND}
    </div>
  );
}

// The code of a page comes when it is opened.
function Opening({ children }: { children: ReactNode }) {
  return <Suspense fallback={<p className="p-6 text-faded">Opening…</p>}>{children}</Suspense>;
}

function Page({ place, children }: { place: Place; children: ReactNode }) {
  useTitle(place.title);
  return children;
}
