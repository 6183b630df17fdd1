import { useState } from 'react';
import { useItems, useSelection } from '../../../api/queries';
import { Finder } from '../../../ui/Finder';
import { Popup } from '../../../ui/Popup';
import { join } from '../../../ui/Ticks';

type Props = { label: string; skus: string[]; wanting: boolean; onChange: (skus: string[]) => void };

/** Some variants, with how many of each are in stock. */
export function Skus({ label, skus, wanting, onChange }: Props) {
  const { data: held } = useSelection({ in: skus.map((sku) => ({ sku })) }, skus.length > 0);
  const names = skus.map((sku, place) => (held?.in.length === skus.length ? held.in[place] : NAMES.get(sku)) ?? sku);
  for (const [place, sku] of skus.entries()) NAMES.set(sku, names[place] ?? sku);
  return (
    <Popup label={label} words={skus.length === 0 ? 'choose gifts' : join(names, 'or')} wanting={skus.length === 0 || wanting} width={440}>
      {(close) => <Editor skus={skus} onChange={onChange} close={close} />}
    </Popup>
  );
}

// Names of variants seen so far in this window.
const NAMES = new Map<string, string>();

function Editor({ skus, onChange, close }: { skus: string[]; onChange: (skus: string[]) => void; close: () => void }) {
  const [q, setQ] = useState('');
  const { data: found = [] } = useItems(q, undefined, true);
  for (const item of found) NAMES.set(item.sku, item.name);
  const toggle = (sku: string) => onChange(skus.includes(sku) ? skus.filter((other) => other !== sku) : [...skus, sku]);
  return (
    <Finder
      autoFocus
      label="Find variants"
      placeholder="find a variant by its name"
      value={q}
      onType={setQ}
      found={found}
      keyOf={(item) => item.sku}
      onTake={(item, { isKey }) => {
        toggle(item.sku);
        // Several of what was found can be pressed one after the other.
        if (isKey) setQ('');
      }}
      onDone={close}
      note={
        skus.length > 0 && (
          <p className="my-1 flex flex-wrap gap-x-3">
            {skus.map((sku) => (
              <button key={sku} type="button" className="word" aria-label={`Take out ${NAMES.get(sku) ?? sku}`} onClick={() => toggle(sku)}>
                {NAMES.get(sku) ?? sku} ×
              </button>
            ))}
          </p>
        )
      }
      row={(item) => (
        <>
          <span className="min-w-0 flex-1 truncate">
            {skus.includes(item.sku) ? '✓ ' : ''}
            {item.name}
          </span>
          <span className="shrink-0 text-faded">
            {item.price}
            {item.stock === null ? '' : `, ${item.stock} in stock`}
          </span>
        </>
      )}
    />
  );
}
