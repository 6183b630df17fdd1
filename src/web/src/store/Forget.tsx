import { useQueryClient } from '@tanstack/react-query';
import { useDeferredValue, useRef, useState } from 'react';
import { answered, api, type ShopperInfo } from '../api/client';
import { useShoppers } from '../api/queries';
import { AskTwice } from '../ui/AskTwice';
import { Find } from '../ui/Find';

type Forgotten = { orders: number; backups: string[] };

/** A shopper who wants to be forgotten: in orders stands another id then, and what was counted stays counted. */
export function Forget() {
  const queries = useQueryClient();
  const [typed, setTyped] = useState('');
  const q = useDeferredValue(typed.trim());
  const { data: shoppers = [] } = useShoppers(q, q.length > 0);
  const find = useRef<HTMLInputElement>(null);
  const [said, setSaid] = useState('');
  const [failure, setFailure] = useState('');
  const forget = async (shopper: ShopperInfo) => {
    setFailure('');
    try {
      const { orders, backups } = await answered<Forgotten>(
        api.POST('/api/shoppers/{id}/forget', { params: { path: { id: shopper.id } } }),
      );
      const where = orders === 0 ? '' : orders === 1 ? ', in one order' : `, in ${orders} orders`;
      const still = backups.length === 0 ? '' : ` These backups still hold the number: ${backups.join(', ')}.`;
      setSaid(`${shopper.name} is forgotten${where}.${still}`);
      setTyped('');
      find.current?.focus();
    } catch (error) {
      setFailure((error as Error).message);
    } finally {
      queries.invalidateQueries();
    }
  };
  return (
    <section aria-label="Shoppers to forget">
      <h2 className="head-word px-4 pt-4">forget a shopper</h2>
      <p className="px-4 leading-[26px]">
        <Find
          ref={find}
          label="Find a shopper to forget"
          placeholder="type a name or a number"
          value={typed}
          onType={(text) => {
            setTyped(text);
            setSaid('');
          }}
        />
      </p>
      <div role="status" className="px-4">
        {said && <p>{said}</p>}
        {failure && <p className="text-doubt">⚠ {failure}</p>}
      </div>
      {q === '' && !said && <p className="px-4 text-faded">Their name is taken out of past orders; used codes stay counted.</p>}
      {q !== '' && shoppers.length === 0 && <p className="px-4 text-faded">Nobody of that name.</p>}
      {q !== '' && (
        <ul>
          {shoppers.map((shopper) => (
            <li key={shopper.id} className="flex items-baseline gap-3 px-4 leading-6 odd:bg-band" data-testid="shopper">
              <span className="min-w-0 flex-1 truncate">{shopper.name}</span>
              <span className="font-mono text-faded">{shopper.id}</span>
              <span className="w-24 text-right">
                {shopper.orders === 0 ? 'no orders' : shopper.orders === 1 ? '1 order' : `${shopper.orders} orders`}
              </span>
              <AskTwice words="forget…" label={`forget ${shopper.name}`} sure="forget for good" onSure={() => forget(shopper)} />
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
