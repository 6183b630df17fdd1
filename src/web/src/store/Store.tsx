import { Forget } from './Forget';
import { Settings } from './Settings';
import { Stock } from './Stock';
import { StoreKeys } from './StoreKeys';

/** What the shop is joined to the ledger by: keys of the store interface, stock, and shoppers who want to be forgotten. */
export function Store() {
  return (
    <section aria-label="Store" className="flex h-full flex-col" data-testid="store">
      <header className="flex items-baseline gap-4 border-b border-rule px-4 pt-2 pb-1.5">
        <h1 className="text-[17px] font-medium">Store</h1>
        <span className="flex-1 text-faded">What is true of the whole shop, and connecting it.</span>
      </header>
      <div className="min-h-0 flex-1 overflow-y-auto pb-4">
        <Settings />
        <StoreKeys />
        <Stock />
        <Forget />
      </div>
    </section>
  );
}
