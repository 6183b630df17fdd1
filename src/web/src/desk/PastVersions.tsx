import { useState } from 'react';
import type { PromotionHistory } from '../api/client';
import { useHistoryOf } from '../api/queries';
import { ClauseDifferences } from '../shop/ClauseDifferences';
import { useShopContext } from '../shop/shop';

/** At the foot of the page: its saved versions, what each changed, when it was live and why, and what is meant as written. */
export function PastVersions({ id, revision }: { id: string; revision: number }) {
  const [open, setOpen] = useState(false);
  const { data } = useHistoryOf(id, revision, open);
  return (
    <section aria-label="History" className="border-t border-rule px-4 py-2">
      <h2 className="head-word">
        <button type="button" aria-expanded={open} onClick={() => setOpen(!open)}>
          history {open ? '−' : '+'}
        </button>
      </h2>
      {open && data && <Told history={data} />}
    </section>
  );
}

function Told({ history }: { history: PromotionHistory }) {
  const { format } = useShopContext();
  return (
    <>
      <ol data-testid="history">
        {history.versions.map((version) => (
          <li key={version.version} className="py-0.5">
            <p>
              <span className="font-medium">version {version.version}</span>{' '}
              <span className="text-faded">{format.moment(version.savedAt)}</span>
            </p>
            {version.live.map((span) => (
              <p key={span.edition} className="text-faded">
                live from edition {span.edition}, {format.moment(span.since)}
                {span.why !== null && <q className="mx-1 text-ink">{span.why}</q>}
                {span.until !== null ? ` to ${format.moment(span.until)}` : ' on'}
                {span.whyNot !== null && <q className="mx-1 text-ink">{span.whyNot}</q>}
              </p>
            ))}
            <ClauseDifferences clauses={version.differences} />
          </li>
        ))}
      </ol>
      {history.meant.map((one) => (
        <p key={one.finding} className="text-faded" data-testid="meant">
          meant since {format.moment(one.since)}: {one.words}
        </p>
      ))}
      {history.versions.length + history.meant.length === 0 && <p className="text-faded">It was never put live.</p>}
    </>
  );
}
