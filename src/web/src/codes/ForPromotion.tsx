import { useState } from 'react';
import { answered, api, type Json, type PromotionPage } from '../api/client';
import { useFoundPromotions } from '../api/queries';
import { keepDraft } from '../shop/keepDraft';
import { Finder } from '../ui/Finder';
import { Popup } from '../ui/Popup';

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
  return (
    <div>
      <Finder
        autoFocus
        label="Find a promotion"
        placeholder="find a promotion by its name"
        value={q}
        onType={setQ}
        found={data?.rows ?? []}
        keyOf={(one) => one.id}
        onTake={({ id, name }) => onChoose({ id, name })}
        row={(one) => (
          <>
            <span className="min-w-0 flex-1 truncate">{one.name}</span>
            <span className="shrink-0 text-faded">{one.phaseText}</span>
          </>
        )}
      />
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
