import { Link } from 'wouter';
import type { OrderRules, StoreOrder } from '../api/client';
import { useShopContext } from '../shop/shop';
import { isZero } from '../ui/format';

/** Why it was that price: every promotion that applied, what it took, and its rule as it stood in the edition of the order. */
export function Rules({ order, rules }: { order: StoreOrder; rules: OrderRules | undefined }) {
  const { format, info } = useShopContext();
  const uses = order.redemptions ?? [];
  if (uses.length === 0) return <p className="px-4 pt-2 text-faded">No promotion applied.</p>;
  const told = order.result;
  return (
    <section aria-label="Why it was that price" className="pt-3">
      <h3 className="head-word px-4">why it was that price</h3>
      <p className="px-4 text-faded">
        {order.edition === 0
          ? 'Nothing was live.'
          : `Priced under edition ${order.edition}${rules?.publishedAt ? `, live since ${format.moment(rules.publishedAt)}` : ''}.`}{' '}
        {order.rehearsal && 'As a rehearsal it uses nothing up.'}
      </p>
      <ul>
        {uses.map((use) => {
          const rule = rules?.promotions.find((one) => one.id === use.promotion);
          const code = told.codes.find((one) => 'promotion' in one && one.promotion === use.promotion)?.code;
          return (
            <li key={use.promotion} className="px-4 py-1 odd:bg-band" data-testid="order-rule">
              <span className="flex items-baseline gap-3">
                <Link className="word min-w-0 flex-1 truncate" href={`/promotions/${use.promotion}`}>
                  {rule?.name ?? told.promotions.find((promotion) => promotion.id === use.promotion)?.label ?? use.promotion}
                </Link>
                <span className="font-mono text-tape text-red">
                  {isZero(use.amount) ? 'took nothing off' : `−${format.money(use.amount, info.currency)}`}
                </span>
              </span>
              {code && <span className="text-faded">by the code {code}. </span>}
              {rule && rule.clauses.length > 0 && <span>{rule.clauses.join(' · ')}</span>}
              {rule && rule.clauses.length === 0 && <span className="text-faded">Its rule of then cannot be read any more.</span>}
              {rule && !rule.isSame && <span className="text-doubt"> It was changed or ended since.</span>}
            </li>
          );
        })}
      </ul>
    </section>
  );
}
