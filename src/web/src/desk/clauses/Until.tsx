import type { Json } from '../../api/client';
import { Clause } from '../../shop/Clause';
import { type Draft, problemsUnder } from '../../shop/document';
import { useShopContext } from '../../shop/shop';
import { toAmount, toNumber, toText } from '../../ui/numbers';
import { Typed } from '../../ui/Typed';

/** How often in all. */
export function Until({ draft }: { draft: Draft }) {
  const { info } = useShopContext();
  const limits = (draft.document.limits ?? {}) as Json;
  const set = (name: string, value: unknown) => {
    const kept = Object.fromEntries(Object.entries({ ...limits, [name]: value }).filter(([, entry]) => entry !== undefined));
    draft.change(['limits'], Object.keys(kept).length === 0 ? undefined : kept);
  };
  const number = (name: string, label: string) => (
    <Typed
      label={label}
      placeholder="no limit"
      inputMode="numeric"
      wanting={problemsUnder(draft.problems, `/limits/${name}`).length > 0}
      value={toText(limits[name])}
      onType={(text) => set(name, toNumber(text))}
    />
  );
  return (
    <Clause name="Until" problems={problemsUnder(draft.problems, '/limits')} quiet={Object.keys(limits).length === 0}>
      {number('total', 'Uses in all')} in all, {number('perShopper', 'Uses for each shopper')} for each shopper,{' '}
      {number('perDay', 'Uses a day')} a day, {limits.budget !== undefined && 'at most '}
      <Typed
        label="Budget"
        placeholder="no budget"
        inputMode="decimal"
        wanting={problemsUnder(draft.problems, '/limits/budget').length > 0}
        value={toText(limits.budget)}
        onType={(text) => set('budget', toAmount(text))}
      />
      {limits.budget !== undefined && ` ${info.currency} given`}
    </Clause>
  );
}
