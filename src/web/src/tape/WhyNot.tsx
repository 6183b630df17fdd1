import { useState } from 'react';
import { Link } from 'wouter';
import { answered, api, type PrintedRemedy, type ShopperInfo, type TapePrint } from '../api/client';
import { useCart } from './cart';

const FEW = 5;

/** Every promotion that did not apply, nearest first, with its figures and a press that changes the cart to make it fit. */
export function WhyNot({ print, draftId }: { print: TapePrint; draftId?: string }) {
  const [all, setAll] = useState(false);
  const { take, letBuy, addItems } = useCart();
  const own = print.whyNot.filter((one) => one.promotion === draftId);
  const ordered = [...own, ...print.whyNot.filter((one) => one.promotion !== draftId)];
  const shown = all ? ordered : ordered.slice(0, FEW);
  const press = async (remedy: PrintedRemedy) => {
    if (remedy.kind !== 'group') return take(remedy);
    // Whoever is found; if nobody can be asked, somebody.
    const found = await answered<ShopperInfo[]>(api.GET('/api/shoppers', { params: { query: { q: remedy.value } } })).catch(() => []);
    letBuy(
      found.find((shopper) => shopper.groups.includes(remedy.value)) ?? {
        id: '',
        name: `Somebody of ${remedy.value}`,
        groups: [remedy.value],
        orders: 0,
        spent: '0',
        place: null,
        language: null,
      },
    );
  };
  if (ordered.length === 0) return null;
  return (
    <section className="not-printed border-t border-rule font-sans text-body" aria-label="Why not">
      <h2 className="head-word px-3 pt-1">why not</h2>
      {shown.map((one) => (
        <div
          key={one.promotion}
          className="flex items-baseline gap-2 px-3 even:bg-band"
          data-testid="why-not"
          data-promotion={one.promotion}
        >
          <p className="line-clamp-4 min-w-0 flex-1">
            <Link href={`/promotions/${one.promotion}`} className="font-medium hover:underline">
              {one.promotion === draftId && <span className="mr-1 text-stamp">✎</span>}
              {one.name}
            </Link>{' '}
            <span className="text-faded">{one.message}</span>
          </p>
          {one.remedy && (
            <button
              type="button"
              className="word shrink-0"
              aria-label={`${one.remedy.words}, for ${one.name}`}
              onClick={() => one.remedy && press(one.remedy)}
            >
              {one.remedy.words}
            </button>
          )}
        </div>
      ))}
      {ordered.length > FEW && (
        <button type="button" className="word mx-3 my-1" onClick={() => setAll(!all)}>
          {all ? 'only the nearest' : `${ordered.length - FEW} more`}
        </button>
      )}
      {print.nudges.length > 0 && (
        <div className="border-t border-rule px-3 pb-1">
          <h2 className="head-word pt-1">what the shopper reads</h2>
          {print.nudges.slice(0, 4).map((nudge) => {
            const words = `add ${nudge.add.map((line) => `${line.quantity} ${line.name}`).join(' and ')}`;
            return (
              <p key={`${nudge.promotion} ${nudge.shopper}`} title={nudge.message} data-testid="nudge" className="flex gap-2">
                <span className="min-w-0 flex-1">{nudge.shopper}</span>
                <button
                  type="button"
                  className="word shrink-0"
                  aria-label={`${words}: ${nudge.shopper}`}
                  onClick={() => addItems(nudge.add)}
                >
                  {words}
                </button>
              </p>
            );
          })}
        </div>
      )}
    </section>
  );
}
