import type { ReactNode } from 'react';
import type { Problem } from '../api/client';

type Props = {
  name: string;
  /** What is wrong in this clause. */
  problems: Problem[];
  quiet?: boolean;
  children: ReactNode;
};

/** One clause of a rule: its word in the margin, the sentence beside it, and what is wrong with it below. */
export function Clause({ name, problems, quiet = false, children }: Props) {
  return (
    <section
      aria-label={name}
      data-clause={name}
      className={`grid grid-cols-[5.5rem_1fr] border-b border-rule odd:bg-band ${problems.length > 0 ? 'shadow-[inset_4px_0_0_var(--doubt)]' : ''}`}
    >
      <h2 className="border-r border-rule py-1.5 pr-2 text-right font-mono text-tape text-faded">{name}</h2>
      <div className={`min-w-0 px-3 py-1.5 leading-[24px] ${quiet ? 'text-faded' : ''}`}>
        {children}
        {problems.map((problem) => (
          <p key={`${problem.at} ${problem.code}`} className="text-doubt" role="status">
            ⚠ {problem.message}
          </p>
        ))}
      </div>
    </section>
  );
}

/** Takes a part out of a clause. */
export function Remove({ label, onClick }: { label: string; onClick: () => void }) {
  return (
    <button type="button" className="min-h-6 min-w-6 px-1 text-faded hover:text-ink" aria-label={label} title={label} onClick={onClick}>
      ×
    </button>
  );
}
