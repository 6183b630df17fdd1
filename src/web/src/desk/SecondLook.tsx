import type { Finding, Json } from '../api/client';
import { pathOf, set } from '../shop/document';
import type { Look } from './useSecondLook';

type Props = {
  look: Look;
  /** What the merchant has said is meant, by check and place. */
  meant: ReadonlySet<string>;
  onMean: (finding: Finding, isMeant: boolean) => void;
  write: (next: (old: Json) => Json, words?: string) => void;
};

export const keyOfFinding = (finding: Finding) => [finding.check, finding.at, finding.other].filter(Boolean).join(' ');

const MARKS: Record<string, string> = { error: '✕', doubt: '⚠', remark: '·' };

/** At the foot of the page: what is found about this rule, each with its figures, a way to mend it in one press, and "I mean it". */
export function SecondLook({ look, meant, onMean, write }: Props) {
  const { findings } = look;
  const open = findings.filter((finding) => finding.severity === 'error' || !meant.has(keyOfFinding(finding)));
  const said = findings.filter((finding) => !open.includes(finding));
  return (
    <section aria-label="Second look" className="border-t border-rule px-4 py-2" data-testid="second-look">
      <h2 className="head-word">second look</h2>
      {look.state === 'away' && (
        <p className="text-doubt">
          ⚠ The server does not answer: the rule as it stands now was not looked at. It is tried again by itself.
        </p>
      )}
      {look.state === 'failed' && <p className="text-doubt">⚠ The rule as it stands now could not be looked at.</p>}
      {look.state === 'looking' && findings.length === 0 && <p className="text-faded">Looking…</p>}
      {look.state === 'looked' && findings.length === 0 && (
        <p className="text-faded">Looked at, beside everything live that it can meet: nothing found.</p>
      )}
      <ul>
        {open.map((finding) => (
          <li
            key={keyOfFinding(finding)}
            tabIndex={-1}
            className="flex flex-wrap items-baseline justify-end gap-x-3"
            data-testid="finding"
            data-check={finding.check}
          >
            <p
              className={`min-w-0 flex-[1_1_16rem] ${finding.severity === 'error' ? 'font-medium text-doubt' : finding.severity === 'doubt' ? 'text-doubt' : ''}`}
            >
              <span aria-hidden="true">{MARKS[finding.severity]} </span>
              <span className="sr-only">{finding.severity}: </span>
              {finding.sentence}
            </p>
            <span className="flex min-w-0 flex-wrap justify-end gap-x-3">
              {finding.mend && (
                <button
                  type="button"
                  className="word shrink-0"
                  onClick={() => {
                    const mend = finding.mend;
                    if (mend) write((old) => set(old, pathOf(mend.at), mend.value ?? undefined) as Json, mend.words);
                  }}
                >
                  {finding.mend.words}
                </button>
              )}
              {finding.severity !== 'error' && (
                <button
                  type="button"
                  className="word shrink-0"
                  aria-label={`I mean it: ${finding.sentence}`}
                  onClick={() => onMean(finding, true)}
                >
                  I mean it
                </button>
              )}
            </span>
          </li>
        ))}
      </ul>
      {said.map((finding) => (
        <p key={keyOfFinding(finding)} className="flex items-baseline gap-3 text-faded" data-testid="as-meant">
          <span className="min-w-0 flex-1">meant: {finding.sentence}</span>
          <button
            type="button"
            className="word shrink-0"
            aria-label={`no longer meant: ${finding.sentence}`}
            onClick={() => onMean(finding, false)}
          >
            no longer
          </button>
        </p>
      ))}
    </section>
  );
}
