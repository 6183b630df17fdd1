import type { ClauseDifference } from '../api/client';

/** What two states of a rule say otherwise, clause by clause: what it said struck, what it says beside it. */
export function ClauseDifferences({ clauses }: { clauses: ClauseDifference[] }) {
  return clauses.map((clause) => (
    <p key={clause.name} className="grid grid-cols-[5.5rem_1fr] gap-x-2">
      <span className="text-right font-mono text-tape text-faded">{clause.name}</span>
      <span>
        {clause.before !== null && <del className="text-faded decoration-1">{clause.before}</del>}{' '}
        {clause.after !== null && <ins className="no-underline">{clause.after}</ins>}
      </span>
    </p>
  ));
}
