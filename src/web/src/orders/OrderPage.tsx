import { useSearchParams } from 'wouter';
import { OrderSlip } from './OrderSlip';
import { PastOrderSlip } from './PastOrderSlip';

/** The order that is pressed: what was bought, what every promotion took, and by which rules. */
export function OrderPage() {
  const [query] = useSearchParams();
  const id = query.get('order');
  const past = query.get('past');
  return (
    <section aria-label="The order" className="h-full overflow-y-auto pb-6">
      {past ? (
        <PastOrderSlip key={past} id={Number(past)} />
      ) : id ? (
        <OrderSlip key={id} id={id} />
      ) : (
        <p className="p-6 text-faded">
          Press an order: what was bought stands here, what every promotion took off, and the rules as they stood.
        </p>
      )}
    </section>
  );
}
