import { type Draft, problemsUnder } from '../../shop/document';
import { Choice } from '../../ui/Choice';
import { Typed } from '../../ui/Typed';
import { Clause } from './Clause';

/** How it starts: by itself, or by a code. */
export function Starts({ draft }: { draft: Draft }) {
  const trigger = (draft.document.trigger ?? { automatic: true }) as { automatic?: boolean; codes?: string[] };
  const codes = trigger.codes;
  const problems = problemsUnder(draft.problems, '/trigger');
  return (
    <Clause name="Starts" problems={problems} quiet={!codes}>
      <Choice
        label="How it starts"
        value={codes ? 'code' : 'itself'}
        options={[
          { value: 'itself', words: 'by itself' },
          { value: 'code', words: 'by a code' },
        ]}
        onChange={(how) => draft.change(['trigger'], how === 'code' ? { codes: codes ?? [''] } : { automatic: true })}
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
          />
        </>
      )}
    </Clause>
  );
}
