import { useState } from 'react';
import { answered, api, type Json, type PromotionPage, type PromotionRow } from '../api/client';
import { useFoundPromotions } from '../api/queries';
import { keepDraft } from '../shop/keepDraft';
import { Find } from '../ui/Find';
import { Popup } from '../ui/Popup';
import { useWalk } from '../ui/useWalk';

export type Named = { id: string; name: string };

/** The promotion that codes are for: found by its name, or none yet. */
export function ForPromotion({ chosen, onChoose }: { chosen: Named | null; onChoose: (chosen: Named | null) => void }) {
  return (
    <Popup label="For which promotion" words={chosen?.name ?? 'no promotion yet'} width={360}>
      {(close) => (
        <Search
          onChoose={(promotion) => {
            onChoose(promotion);
            close();
          }}
        />
      )}
    </Popup>
  );
}

function Search({ onChoose }: { onChoose: (chosen: Named | null) => void }) {
  const [q, setQ] = useState('');
  const { data } = useFoundPromotions(q, 12);
  const found: PromotionRow[] = data?.rows ?? [];
  const { at, setAt, walk } = useWalk(found.length);
  return (
    <div>
      <Find
        autoFocus
        className="w-full px-1"
        label="Find a promotion"
        placeholder="find a promotion by its name"
        value={q}
        onType={(text) => {
          setQ(text);
          setAt(0);
        }}
        onKeyDown={(event) => {
          if (walk(event) || event.key !== 'Enter') return;
          event.preventDefault();
          const row = found[at];
          if (row) onChoose({ id: row.id, name: row.name });
        }}
      />
      <ul className="max-h-56 overflow-y-auto">
        {found.map((row, place) => (
          <li key={row.id} className={place === at ? 'bg-press' : place % 2 ? '' : 'bg-band'}>
            <button
              type="button"
              className="flex w-full justify-between gap-2 px-1 text-left"
              onMouseEnter={() => setAt(place)}
              onClick={() => onChoose({ id: row.id, name: row.name })}
            >
              <span className="truncate">{row.name}</span>
              <span className="shrink-0 text-faded">{row.phaseText}</span>
            </button>
          </li>
        ))}
      </ul>
      <button type="button" className="word mt-1" onClick={() => onChoose(null)}>
        no promotion yet
      </button>
    </div>
  );
}

/** Lets a promotion start by a batch too: in its draft, which whoever writes it then puts live. */
export async function letStartBy(promotion: Named, batch: string) {
  const page = await answered<PromotionPage>(api.GET('/api/promotions/{id}', { params: { path: { id: promotion.id } } }));
  const { codes, batches = [] } = (page.document.trigger ?? {}) as { codes?: string[]; batches?: string[] };
  const trigger = { ...(codes ? { codes } : {}), batches: [...batches, batch] };
  const document: Json = { ...page.document, trigger };
  await keepDraft(promotion.id, page.revision, document);
}
