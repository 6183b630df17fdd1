import { Link } from 'wouter';
import { useBatches } from '../../api/queries';
import { Clause } from '../../shop/Clause';
import { type Draft, problemsUnder } from '../../shop/document';
import { Choice } from '../../ui/Choice';
import { Ticks } from '../../ui/Ticks';
import { Typed } from '../../ui/Typed';

// Without what looks alike, and hard to guess: 32 to the power of 8.
const SIGNS = '0123456789ABCDEFGHJKMNPQRSTVWXYZ';
const madeUp = () => [...crypto.getRandomValues(new Uint8Array(8))].map((byte) => SIGNS[byte % SIGNS.length]).join('');

/** How it starts: by itself, or by a code. */
export function Starts({ draft }: { draft: Draft }) {
  const trigger = (draft.document.trigger ?? { automatic: true }) as { automatic?: boolean; codes?: string[]; batches?: string[] };
  const { codes, batches } = trigger;
  const { data: known = [] } = useBatches();
  const write = (next: { codes?: string[]; batches?: string[] }) =>
    draft.change(['trigger'], next.codes || next.batches ? JSON.parse(JSON.stringify(next)) : { automatic: true });
  const problems = problemsUnder(draft.problems, '/trigger');
  return (
    <Clause name="Starts" problems={problems} quiet={!codes && !batches}>
      <Choice
        label="How it starts"
        value={codes ? (batches ? 'both' : 'code') : batches ? 'batch' : 'itself'}
        options={[
          { value: 'itself', words: 'by itself' },
          { value: 'code', words: 'by a code' },
          { value: 'batch', words: 'by any code of a batch' },
          { value: 'both', words: 'by a code, or any of a batch' },
        ]}
        onChange={(how) =>
          write({
            codes: how === 'code' || how === 'both' ? (codes ?? ['']) : undefined,
            batches: how === 'batch' || how === 'both' ? (batches ?? []) : undefined,
          })
        }
      />
      {codes && (
        <>
          {' '}
          the shopper enters:{' '}
          <Typed
            label="Codes, with commas between"
            placeholder="CODE"
            className="part fitted uppercase placeholder:normal-case"
            wanting={problems.length > 0}
            value={codes.join(', ')}
            onType={(text) =>
              draft.change(
                ['trigger', 'codes'],
                text.split(',').map((code) => code.trim()),
              )
            }
          />{' '}
          {codes.every((code) => code === '') && (
            <button type="button" className="word" onClick={() => draft.change(['trigger', 'codes'], [madeUp()])}>
              make one up
            </button>
          )}
        </>
      )}
      {batches && (
        <>
          {' '}
          of the batch{' '}
          <Ticks
            label="Batches"
            values={batches}
            options={known.map((batch) => ({ value: batch.id, words: `${batch.id}: ${batch.note}` }))}
            onChange={(values) => draft.change(['trigger', 'batches'], values)}
          />{' '}
          <Link href="/codes" className="word">
            make codes
          </Link>
        </>
      )}
    </Clause>
  );
}
