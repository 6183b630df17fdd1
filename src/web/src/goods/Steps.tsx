import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type StepTakenBack } from '../api/client';
import { useGoodsSteps } from '../api/queries';
import { useShopContext } from '../shop/shop';

/** What was done to goods and shoppers, by whom and when; any of it can be taken back. */
export function Steps() {
  const queries = useQueryClient();
  const { format } = useShopContext();
  const { data: steps = [], error } = useGoodsSteps();
  const [said, setSaid] = useState('');
  const back = async (number: number, what: string) => {
    try {
      const done = await answered<StepTakenBack>(api.POST('/api/goods/steps/{number}/back', { params: { path: { number } } }));
      const kept = done.kept.map((one) => `${one.id} ${one.member}`);
      setSaid(
        kept.length === 0
          ? `“${what}” is taken back.`
          : `“${what}” is taken back, but for what was written since: ${kept.slice(0, 10).join(', ')}${kept.length > 10 ? ` and ${kept.length - 10} more` : ''}.`,
      );
    } catch (error) {
      setSaid(`⚠ ${(error as Error).message}`);
    }
    await queries.invalidateQueries();
  };
  return (
    <section aria-label="What was done to goods" className="max-h-56 overflow-y-auto border-b border-rule pb-1">
      <h2 className="head-word px-4 pt-1">history</h2>
      <div role="status">{said && <p className="px-4">{said}</p>}</div>
      {error && <p className="px-4 text-doubt">⚠ {error.message}</p>}
      {steps.length === 0 && !error && <p className="px-4 text-faded">Nothing was changed yet.</p>}
      <ul>
        {steps.map((step) => (
          <li key={step.number} className="flex items-baseline gap-3 px-4 leading-6 odd:bg-band">
            <span className="min-w-0 flex-1 truncate">{step.what}</span>
            <span className="text-faded">{step.by}</span>
            <span className="w-28 text-right text-faded">{format.lately(step.at)}</span>
            <span className="w-24 text-right">
              {step.takenBack != null ? (
                <span className="text-faded">taken back</span>
              ) : (
                <button type="button" className="word" aria-label={`take back: ${step.what}`} onClick={() => back(step.number, step.what)}>
                  take back
                </button>
              )}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
