import { memo, useEffect, useState } from 'react';
import type { Json } from '../api/client';
import { useNowLive } from '../api/queries';
import { titleOf } from '../shop/document';
import { useShopContext } from '../shop/shop';
import { useCart } from './cart';
import { TapeCodes } from './TapeCodes';
import { TapeEntries, TapeSum } from './TapeEntries';
import { TapeFoot } from './TapeFoot';
import { TapeHead } from './TapeHead';
import { TapeLines } from './TapeLines';
import type { Printed } from './usePrint';
import { WhyNot } from './WhyNot';

type Props = {
  printed: Printed;
  /** The promotion being written, as it was printed. */
  draft: Json | null;
};

/** The right page: what the rules on the left do to a cart, entry by entry. */
export const Tape = memo(function Tape({ printed, draft }: Props) {
  const draftId = draft?.id as string | undefined;
  const { info } = useShopContext();
  const [lit, setLit] = useState<string | null>(null);
  const { print, stale, down } = printed;
  const { cart } = useCart();

  // Focus stays where it is when the tape reprints: rows are keyed by what they are, never by when they came.
  useEffect(() => {
    if (lit && print && !print.entries.some((entry) => entry.promotion === lit)) setLit(null);
  }, [lit, print]);

  return (
    <section aria-label="Tape" className="printed flex h-full min-w-0 font-mono text-tape leading-[18px]">
      <div className="tape-edge border-r border-dashed border-rule" aria-hidden="true" />
      <div className="flex min-w-0 flex-1 flex-col">
        <TapeHead />
        <PrintedHead draft={draft} />
        <div aria-live="polite">
          {down && <Notice words="The server does not answer. What you write is kept; the tape goes on by itself when it is back." />}
          {!down && stale && (
            <Notice
              words={
                printed.cartProblems[0]
                  ? `The prices before the last change. In the cart: ${printed.cartProblems[0].message}`
                  : 'Prices without this promotion as it is being written: it is not finished.'
              }
            />
          )}
        </div>
        {print ? (
          <div className="min-h-0 flex-1 overflow-y-auto" data-testid="tape" data-serial={printed.serial}>
            <TapeLines print={print} lit={lit} />
            <TapeCodes print={print} />
            <TapeEntries print={print} live={printed.live} lit={lit} onLight={setLit} draftId={draftId} />
            <TapeSum print={print} live={printed.live} />
            <WhyNot print={print} draftId={draftId} />
            <TapeFoot draft={draft} />
          </div>
        ) : (
          <p className="p-4 text-faded">
            {cart.lines.length === 0 && info.samples.length === 0 ? 'Put something in the cart to see it priced.' : 'Printing…'}
          </p>
        )}
      </div>
      <div className="tape-edge border-l border-dashed border-rule" aria-hidden="true" />
    </section>
  );
});

/** On paper: whose prices these are, for whom, when, and by which rules. */
function PrintedHead({ draft }: { draft: Json | null }) {
  const { info, format } = useShopContext();
  const { cart, who } = useCart();
  const { data: live } = useNowLive();
  const name = (code: string | undefined, all: { code: string; name: string }[]) => all.find((one) => one.code === code)?.name ?? code;
  const method = info.methods.find((one) => one.id === cart.method)?.name;
  const rule = draft ? `“${titleOf(draft)}” as it is being written, beside edition` : 'edition';
  return (
    <header className="only-printed border-b border-rule px-3 py-1.5">
      <p>{info.name}</p>
      <p>
        {format.moment(cart.at ?? (info.demoClock ? info.now : Date.now()))}, {info.timeZone} time
      </p>
      <p>
        {who} buys on {cart.channel ?? 'web'}, pays in {cart.currency ?? info.currency}
        {cart.destination && `, to ${name(cart.destination, info.places)}`}
        {method && ` by ${method}`}
      </p>
      <p>
        Priced by {rule} {live?.edition?.number ?? 0}.
      </p>
    </header>
  );
}

function Notice({ words }: { words: string }) {
  return <p className="border-b border-rule bg-doubted px-3 py-1 font-sans text-body text-doubt">{words}</p>;
}
