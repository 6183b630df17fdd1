import { useState } from 'react';
import { useItems, useSelection } from '../../../api/queries';
import { Find } from '../../../ui/Find';
import { Popup } from '../../../ui/Popup';
import { join } from '../../../ui/Ticks';
import { useWalk } from '../../../ui/useWalk';

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
  const { at, setAt, walk } = useWalk(found.length);
  for (const item of found) NAMES.set(item.sku, item.name);
  const toggle = (sku: string) => onChange(skus.includes(sku) ? skus.filter((other) => other !== sku) : [...skus, sku]);
  return (
    <div>
      <Find
        autoFocus
        className="w-full px-1"
        label="Find variants"
        placeholder="find a variant by its name"
        value={q}
        onType={(text) => {
          setQ(text);
          setAt(0);
        }}
        onKeyDown={(event) => {
          if (walk(event) || event.key !== 'Enter') return;
          event.preventDefault();
          const item = found[at];
          if (q.trim() === '' || !item) return close();
          toggle(item.sku);
          setQ('');
        }}
      />
      {skus.length > 0 && (
        <p className="my-1 flex flex-wrap gap-x-3">
          {skus.map((sku) => (
            <button key={sku} type="button" className="word" aria-label={`Take out ${NAMES.get(sku) ?? sku}`} onClick={() => toggle(sku)}>
              {NAMES.get(sku) ?? sku} ×
            </button>
          ))}
        </p>
      )}
      <ul className="max-h-56 overflow-y-auto">
        {found.map((item, place) => (
          <li key={item.sku} className={place === at ? 'bg-press' : place % 2 ? '' : 'bg-band'}>
            <button
              type="button"
              className="flex w-full justify-between gap-2 px-1 text-left"
              onMouseEnter={() => setAt(place)}
              onClick={() => toggle(item.sku)}
            >
              <span className="truncate">
                {skus.includes(item.sku) ? '✓ ' : ''}
                {item.name}
              </span>
              <span className="shrink-0 text-faded">
                {item.price}
                {item.stock === null ? '' : `, ${item.stock} in stock`}
              </span>
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}
