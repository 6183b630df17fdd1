const WORDS: Record<string, string> = { held: 'held', taken: 'paid', givenBack: 'given back', lapsed: 'lapsed' };

/** Where an order stands: a small drawn mark and a word. */
export function OrderMark({ state }: { state: string }) {
  return (
    <span className="inline-flex w-[5.6rem] shrink-0 items-baseline gap-1 font-mono text-[11px] text-stamp" data-testid="order-state">
      <svg viewBox="0 0 12 12" className="h-3 w-3 self-center" fill="none" stroke="currentColor" strokeWidth="1.5" aria-hidden="true">
        {state === 'held' && <path d="M2 2.5h8M2 9.5h8M3 2.5l6 7M9 2.5l-6 7" />}
        {state === 'taken' && <path d="M1.5 6.5 4.5 9.5 10.5 2.5" strokeWidth="2" />}
        {state === 'givenBack' && <path d="M4.5 2 1.5 5l3 3M1.5 5h6a3 3 0 0 1 0 5.5H5" />}
        {state === 'lapsed' && <circle cx="6" cy="6" r="4.2" strokeDasharray="2.2 2.2" />}
      </svg>
      {WORDS[state] ?? state}
    </span>
  );
}
