import { Link } from 'wouter';
import type { Settings } from './useSettings';

/** What changed settings do, before they hold: to the tape's cart, to what promotions say, to the sample carts. And the stamp. */
export function WhatChanges({ of }: { of: Settings }) {
  const { look } = of;
  if (!of.hasChanges) return null;
  const isSame = look && !look.tape && look.promotions.length === 0 && look.carts.length === 0;
  const count = of.problems.length;
  return (
    <section aria-label="What changes" className="border-t border-ink px-4 py-2">
      <div role="status" className="max-h-40 overflow-y-auto">
        {look && count === 0 && (
          <>
            {look.tape && <p>The cart on the tape: {look.tape}</p>}
            {look.promotions.map((one) => (
              <p key={`${one.id} ${one.what}`}>
                <Link className="word" href={`/promotions/${one.id}`}>
                  {one.name}
                </Link>
                : {one.what}
              </p>
            ))}
            {look.carts.map((one) => (
              <p key={one.id}>
                The sample cart {one.name}: {one.what}
              </p>
            ))}
            {isSame && <p className="text-faded">No cart comes out different, and every live promotion says what it said.</p>}
          </>
        )}
        {of.failure && <p className="text-doubt">⚠ {of.failure}</p>}
      </div>
      <p className="flex flex-wrap items-baseline gap-4 pt-1">
        <button
          type="button"
          className="stamp"
          aria-disabled={of.busy || count > 0 || !look || of.isLooking}
          onClick={() => !of.busy && count === 0 && look && !of.isLooking && of.stamp()}
        >
          Change the store
        </button>
        <button type="button" className="word" onClick={of.putBack}>
          leave it as it was
        </button>
        {count > 0 && <span className="text-doubt">⚠ {count === 1 ? 'One thing is' : `${count} things are`} not right yet.</span>}
        {of.isLooking && count === 0 && <span className="text-faded">Looking at what it changes…</span>}
        <span className="text-faded">It holds from the next price on. Orders already placed stay as they are.</span>
      </p>
    </section>
  );
}
