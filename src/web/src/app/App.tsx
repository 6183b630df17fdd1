import { useCallback, useMemo, useState } from 'react';
import { Redirect, Route, Switch, useLocation } from 'wouter';
import type { Json } from '../api/client';
import { useNowLive, useShop } from '../api/queries';
import { Codes } from '../codes/Codes';
import { Counter } from '../counter/Counter';
import { Desk } from '../desk/Desk';
import { NewPromotion } from '../desk/NewPromotion';
import { Editions } from '../editions/Editions';
import { PromotionList } from '../promotions/PromotionList';
import { ShopProvider } from '../shop/shop';
import { Orders } from '../store/Orders';
import { Store } from '../store/Store';
import { CartProvider, useCart } from '../tape/cart';
import { Tape } from '../tape/Tape';
import { usePrint } from '../tape/usePrint';
import { History, HistoryProvider } from '../ui/undo';
import { CommandLine } from './CommandLine';
import { Head } from './Head';
import { KeysOfThePage } from './Keys';
import { Spread } from './Spread';
import { TakenBack } from './TakenBack';
import { useFollowing } from './useFollowing';

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

function Ledger() {
  const { cart } = useCart();
  const [draft, setDraft] = useState<{ id: string; document: Json } | null>(null);
  // The page that was written last is still at hand at the counter.
  const [last, setLast] = useState<Json | null>(null);
  const [asIfLive, setAsIfLive] = useState(false);
  const [path] = useLocation();
  const atCounter = path.startsWith('/counter');
  const shown = draft?.document ?? (atCounter && asIfLive ? last : null);
  const { data: live } = useNowLive();
  useFollowing(live?.stamp);
  const printed = usePrint(cart, shown, live && `${live.edition?.number} ${live.uses}`);
  const onDraft = useCallback((next: { id: string; document: Json } | null) => {
    setDraft(next);
    if (next) setLast(next.document);
  }, []);
  return (
    <div className="flex h-full flex-col">
      <Head isAlone={atCounter} />
      <Spread
        left={
          <Switch>
            <Route path="/promotions/new">
              <NewPromotion />
            </Route>
            <Route path="/promotions/:id">{({ id }) => <Desk id={id} printed={printed} onDraft={onDraft} />}</Route>
            <Route path="/codes">
              <Codes />
            </Route>
            <Route path="/counter">
              <Counter written={last} asIfLive={asIfLive} onAsIfLive={setAsIfLive} />
            </Route>
            <Route path="/editions">
              <Editions />
            </Route>
            <Route path="/store">
              <Store />
            </Route>
            <Route path="/promotions">
              <PromotionList print={printed.print} />
            </Route>
            <Route>
              <Redirect to="/promotions" replace />
            </Route>
          </Switch>
        }
        right={path === '/store' ? <Orders /> : <Tape printed={printed} draft={shown} />}
        rightName={path === '/store' ? 'orders' : 'the tape'}
        isAlone={atCounter}
      />
      <TakenBack />
      <CommandLine />
      <KeysOfThePage />
    </div>
  );
}
