import { Link } from 'wouter';
import type { TakingsGlance } from '../api/client';
import { useShopContext } from '../shop/shop';
import { isZero } from '../ui/format';

/** What a promotion brought in the last 28 days: orders, given, margin. Pressed, it opens its takings. */
export function BroughtLink({ brought }: { brought: TakingsGlance }) {
  const { format, info } = useShopContext();
  return (
    <Link
      href={`/takings?p=${encodeURIComponent(brought.promotion)}`}
      className="inline-block min-w-6 leading-6 text-faded hover:underline"
      title="the last 28 days: orders, what was given, margin"
      onClick={(event) => event.stopPropagation()}
    >
      {brought.orders === 1 ? '1 order' : `${format.number(brought.orders)} orders`}
      {!isZero(brought.given) && `, ${format.plain(brought.given, info.currency)} given`}
      {brought.marginPercent != null && `, margin ${format.share(brought.marginPercent)}`}
    </Link>
  );
}
