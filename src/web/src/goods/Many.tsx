import { useState } from 'react';
import { answered, api, type GoodsItem, type GoodsPage } from '../api/client';
import { GOODS_AT_ONCE, type GoodsFilter } from '../api/queries';
import { useShopContext } from '../shop/shop';
import { Choice } from '../ui/Choice';
import { toNumber } from '../ui/numbers';
import { Typed } from '../ui/Typed';
import { changed } from './rounding';
import { type ItemChange, useWriteGoods } from './writing';

/** Many items at once: every one that the list shows is raised, lowered or reduced, as one step. */
export function Many({ asked, total, onDone }: { asked: GoodsFilter; total: number; onDone: () => void }) {
  const { info, format } = useShopContext();
  const write = useWriteGoods();
  const [what, setWhat] = useState('raise');
  const [percent, setPercent] = useState('');
  const [ending, setEnding] = useState('');
  const [failure, setFailure] = useState('');
  const [busy, setBusy] = useState(false);
  const exponent = info.currencies[0]?.exponent ?? 2;
  const run = async () => {
    const by = toNumber(percent);
    if (what !== 'full' && (typeof by !== 'number' || by <= 0 || by >= 1000)) return setFailure('Say by how many percent.');
    const tail = ending.trim() === '' ? undefined : toNumber(ending);
    if (tail !== undefined && (typeof tail !== 'number' || tail < 0)) return setFailure('Write how prices end, such as .90.');
    setFailure('');
    setBusy(true);
    try {
      const items: GoodsItem[] = [];
      while (items.length < total) {
        const page = await answered<GoodsPage>(
          api.GET('/api/goods', { params: { query: { ...asked, from: items.length, take: GOODS_AT_ONCE } } }),
        );
        if (page.items.length === 0) break;
        items.push(...page.items);
      }
      const price = (from: string, sign: 1 | -1) => changed(from, exponent, sign * Number(by), tail as number | undefined);
      const changes = items.map((item): ItemChange => {
        if (what === 'full') return { sku: item.sku, price: null };
        if (what === 'reduce') return { sku: item.sku, price: price(item.regular, -1) };
        return { sku: item.sku, regular: price(item.regular, what === 'raise' ? 1 : -1) };
      });
      await write(
        changes,
        `${format.number(items.length)} items ${WORDS[what] ?? what}${what === 'full' ? '' : ` by ${percent.trim()} %`}`,
      );
      onDone();
    } catch (error) {
      setFailure((error as Error).message);
    } finally {
      setBusy(false);
    }
  };
  return (
    <form
      aria-label="Change many items"
      className="border-b border-rule px-4 leading-[28px]"
      onSubmit={(event) => {
        event.preventDefault();
        if (!busy) run();
      }}
    >
      Of the {format.number(total)} items that the list shows,{' '}
      <Choice
        label="What is done"
        value={what}
        options={[
          { value: 'raise', words: 'raise the regular price' },
          { value: 'lower', words: 'lower the regular price' },
          { value: 'reduce', words: 'set the reduced price below the regular' },
          { value: 'full', words: 'take the reduced price out' },
        ]}
        onChange={setWhat}
      />
      {what !== 'full' && (
        <>
          {' '}
          by{' '}
          <Typed
            label="By how many percent"
            placeholder="percent"
            inputMode="decimal"
            value={percent}
            onType={setPercent}
            wanting={failure.startsWith('Say')}
          />{' '}
          %, to the next{' '}
          <Typed
            label="How prices end"
            placeholder={exponent === 0 ? 'unit' : 'cent'}
            inputMode="decimal"
            value={ending}
            onType={setEnding}
          />
        </>
      )}{' '}
      <button type="submit" className="word" aria-disabled={busy}>
        {busy ? 'writing…' : 'do it'}
      </button>{' '}
      <button type="button" className="word" onClick={onDone}>
        cancel
      </button>
      {failure && (
        <p role="alert" className="text-doubt">
          ⚠ {failure}
        </p>
      )}
    </form>
  );
}

const WORDS: Record<string, string> = { raise: 'raised', lower: 'lowered', reduce: 'reduced', full: 'no longer reduced' };
