import { useEffect, useRef } from 'react';
import { Reductions } from '../shop/Reductions';
import type { Format } from '../ui/format';
import { type Placed, useGiveBack } from './store';
import type { Words } from './words';

/** The receipt: every line, every reduction by its name. The order can be taken back. */
export function Receipt({ order, words, format, onClose }: { order: Placed; words: Words; format: Format; onClose: () => void }) {
  const back = useGiveBack();
  // What was done is where one goes on from.
  const head = useRef<HTMLHeadingElement>(null);
  useEffect(() => head.current?.focus(), []);
  const told = order.result;
  return (
    <section aria-label={words.number} className="py-3" data-testid="receipt">
      <h2 ref={head} tabIndex={-1} className="text-center font-medium outline-none">
        {words.thanks}
      </h2>
      <p className="border-b border-dashed border-ink pb-1 text-center text-faded">
        {words.number} {order.id}
      </p>
      {order.rehearsal && <p className="text-doubt">{words.rehearsal}</p>}
      <ul className="border-b border-rule py-1">
        {told.lines.map((line, place) => (
          <li key={place} className="flex gap-2">
            <span className="w-6 text-right">{line.quantity}</span>
            <span className="min-w-0 flex-1">{line.name}</span>
            <span data-amount={line.goods}>{format.plain(line.goods, told.currency)}</span>
          </li>
        ))}
      </ul>
      <Reductions told={told} words={words} format={format} />
      {back.isSuccess && <p role="status">{words.cancelled}</p>}
      {back.error && <p className="text-doubt">{back.error.message}</p>}
      <p className="flex justify-center gap-4 pt-3">
        {!back.isSuccess && (
          <button type="button" className="word" onClick={() => !back.isPending && back.mutate(order.id)}>
            {words.cancel}
          </button>
        )}
        <button type="button" className="word" onClick={onClose}>
          {words.again}
        </button>
      </p>
    </section>
  );
}
