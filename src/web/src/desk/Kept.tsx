import type { Keeping } from './useDraft';

/** Whether what is written is kept, or which version is saved. */
export function Kept({ version, hasDraft, keeping }: { version: number | null; hasDraft: boolean; keeping: Keeping }) {
  return (
    <span className="shrink-0" data-testid="keeping">
      {hasDraft ? KEEPING[keeping] : `version ${version}`}
    </span>
  );
}

const KEEPING: Record<Keeping, string> = {
  kept: 'draft kept',
  keeping: 'keeping…',
  waiting: 'kept in this browser until the server answers',
  conflict: 'written elsewhere too',
};
