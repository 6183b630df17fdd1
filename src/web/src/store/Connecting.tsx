import { useShopContext } from '../shop/shop';
import { Forget } from './Forget';
import { LeaveDemo } from './LeaveDemo';
import { Stock } from './Stock';
import { StoreKeys } from './StoreKeys';
import { TakeAlong } from './TakeAlong';

/** What joins a shop to the ledger: keys of the store interface, stock that was counted, and shoppers who want to be forgotten. */
export function Connecting() {
  const { info } = useShopContext();
  return (
    <section aria-label="Keys, stock, forgetting" className="h-full overflow-y-auto pb-4">
      {info.isDemo && <LeaveDemo />}
      <StoreKeys />
      <Stock />
      <Forget />
      <TakeAlong />
    </section>
  );
}
