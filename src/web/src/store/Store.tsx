import { Words } from '../words/Words';
import { Settings } from './settings/Settings';
import { useSettings } from './settings/useSettings';
import { WhatChanges } from './settings/WhatChanges';

/** What is true of the whole shop: its settings as sentences, and what a change of them does before it holds. */
export function Store() {
  const settings = useSettings();
  return (
    <section aria-label="Store" className="flex h-full flex-col" data-testid="store">
      <header className="flex items-baseline gap-4 border-b border-rule px-4 pt-2 pb-1.5">
        <h1 className="text-[17px] font-medium">Store</h1>
        <span className="flex-1 text-faded">What is true of the whole shop. What is underlined can be changed.</span>
      </header>
      <div className="min-h-0 flex-1 overflow-y-auto pb-4">
        <Settings of={settings} />
        <Words />
      </div>
      <WhatChanges of={settings} />
    </section>
  );
}
