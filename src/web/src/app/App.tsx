import { useCallback, useMemo, useState } from 'react';
import { Redirect, Route, Switch } from 'wouter';
import type { Json } from '../api/client';
import { useNowLive, useShop } from '../api/queries';
import { Desk } from '../desk/Desk';
import { NewPromotion } from '../desk/NewPromotion';
import { Editions } from '../editions/Editions';
import { PromotionList } from '../promotions/PromotionList';
import { ShopProvider } from '../shop/shop';
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
  const { data: live } = useNowLive();
  useFollowing(live?.stamp);
  const printed = usePrint(cart, draft?.document ?? null, live?.edition?.number);
  const onDraft = useCallback((next: { id: string; document: Json } | null) => setDraft(next), []);
  return (
    <div className="flex h-full flex-col">
      <Head />
      <Spread
        left={
          <Switch>
            <Route path="/promotions/new">
              <NewPromotion />
            </Route>
            <Route path="/promotions/:id">{({ id }) => <Desk id={id} printed={printed} onDraft={onDraft} />}</Route>
            <Route path="/editions">
              <Editions />
            </Route>
            <Route path="/promotions">
              <PromotionList print={printed.print} />
            </Route>
            <Route>
              <Redirect to="/promotions" replace />
            </Route>
          </Switch>
        }
        right={<Tape printed={printed} draft={draft?.document ?? null} />}
      />
      <TakenBack />
      <CommandLine />
      <KeysOfThePage />
    </div>
  );
}
