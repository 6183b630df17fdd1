/** Where a promotion or an order stands: a small drawn mark and a word, never colour alone. */
export function StateMark({ phase, words }: { phase: string; words: string }) {
  return (
    <span data-testid="phase" className="inline-flex shrink-0 items-baseline gap-1 font-mono text-[11px] text-stamp">
      <svg viewBox="0 0 12 12" className="h-3 w-3 self-center" fill="none" stroke="currentColor" strokeWidth="1.5" aria-hidden="true">
        <Mark phase={phase} />
      </svg>
      {words}
    </span>
  );
}

function Mark({ phase }: { phase: string }) {
  switch (phase) {
    case 'running':
      return <circle cx="6" cy="6" r="4.2" fill="currentColor" />;
    case 'nearlyUsed':
      return (
        <>
          <circle cx="6" cy="6" r="4.5" />
          <path d="M6 1.5A4.5 4.5 0 1 1 1.5 6H6Z" fill="currentColor" stroke="none" />
        </>
      );
    case 'usedUp':
      return (
        <>
          <circle cx="6" cy="6" r="4.5" />
          <path d="M2.8 9.2 9.2 2.8" />
        </>
      );
    case 'ending':
      return <path d="M1 6h6M5 2.5 8.5 6 5 9.5M10.5 1.5v9" />;
    case 'starting':
    case 'scheduled':
      return <path d="M1.5 1.5v9M4 6h6.5M8 2.5 11 6 8 9.5" />;
    case 'draft':
      return <path d="M1.5 10.5 2.4 7.6 8.6 1.4l2 2-6.2 6.2Z" />;
    case 'paused':
      return <path d="M3.5 2v8M8.5 2v8" strokeWidth="2" />;
    case 'lapsed':
    case 'between':
      return <circle cx="6" cy="6" r="4.2" strokeDasharray="2.2 2.2" />;
    case 'taken':
      return <path d="M1.5 6.5 4.5 9.5 10.5 2.5" strokeWidth="2" />;
    case 'givenBack':
      return <path d="M4.5 2 1.5 5l3 3M1.5 5h6a3 3 0 0 1 0 5.5H5" />;
    case 'held':
    case 'ended':
      return <path d="M2 2.5h8M2 9.5h8M3 2.5l6 7M9 2.5l-6 7" />;
    default:
      return <path d="M1.5 3.5h9v2h-9zM2.5 5.5v5h7v-5M5 7.5h2" />;
  }
}
