import { memo, useCallback, useEffect, useMemo, useRef } from 'react';
import { flushSync } from 'react-dom';
import { Link } from 'wouter';
import { type Json, type NextOpening, type PromotionPage, Refused, type Clause as Words } from '../api/client';
import { useGiveWay, usePromotion, useStanding, useTakingsGlance } from '../api/queries';
import { type Draft, pathOfText, problemsUnder, textOf, titleOf } from '../shop/document';
import { StateMark } from '../shop/StateMark';
import { BroughtLink } from '../takings/BroughtLink';
import { clockOf, useCart } from '../tape/cart';
import type { Printed } from '../tape/usePrint';
import { toText } from '../ui/numbers';
import { useSame } from '../ui/same';
import { Typed } from '../ui/Typed';
import { useTitle } from '../ui/useTitle';
import { ConflictNotice } from './ConflictNotice';
import { Alongside } from './clauses/Alongside';
import { For } from './clauses/For';
import { Gives } from './clauses/Gives';
import { Runs } from './clauses/Runs';
import { Says } from './clauses/Says';
import { Starts } from './clauses/Starts';
import { Until } from './clauses/Until';
import { When } from './clauses/When';
import { PriceCurve } from './curve/PriceCurve';
import { Foot } from './Foot';
import { Kept } from './Kept';
import { MostItCan } from './MostItCan';
import { PastVersions } from './PastVersions';
import { keyOfFinding, SecondLook } from './SecondLook';
import { useDraft } from './useDraft';
import { useLife } from './useLife';
import { useMeaning } from './useMeaning';
import { useSecondLook } from './useSecondLook';

type Props = { id: string; printed: Printed; onDraft: (draft: { id: string; document: Json } | null) => void };

/** The desk: a rule written as clauses of plain language. */
export function Desk({ id, printed, onDraft }: Props) {
  const { data: page, error } = usePromotion(id);
  if (error)
    return (
      <p className="p-4 text-doubt">
        {error instanceof Refused ? error.message : 'The server does not answer; this page opens by itself when it is back.'}{' '}
        <Link href="/promotions" className="word">
          back to the list
        </Link>
      </p>
    );
  if (!page) return <p className="p-4 text-faded">Opening…</p>;
  return <OpenDesk key={id} page={page} printed={printed} onDraft={onDraft} />;
}

function OpenDesk({ page, printed, onDraft }: { page: PromotionPage; printed: Printed; onDraft: Props['onDraft'] }) {
  const { cart } = useCart();
  const id = page.id;
  const giveWay = useGiveWay();
  const giveUpLook = useRef(() => {});
  const onWritten = useCallback(
    (next: Json) => {
      // At once, not with the drawing of the desk, which takes longer: the tape is priced meanwhile, and alone.
      flushSync(() => onDraft({ id, document: asLive(id, next) }));
      giveUpLook.current();
      giveWay();
    },
    [id, onDraft, giveWay],
  );
  const draft = useDraft(page, onWritten);
  const { saved, document: written } = draft;
  const { meant, mean } = useMeaning(page);
  const hasDraft = saved.hasDraft || draft.keeping !== 'kept';
  const life = useLife(id, draft);
  const brought = useTakingsGlance().data?.get(id);
  const { data: standing } = useStanding(id, clockOf(cart.at), saved.revision);

  const priced = useMemo(() => asLive(id, written), [id, written]);
  useEffect(() => {
    onDraft({ id, document: priced });
  }, [id, priced, onDraft]);
  useEffect(() => () => onDraft(null), [onDraft]);

  // What must still be chosen, which the first print tells, is where one goes on; else the desk has the keys.
  const desk = useRef<HTMLElement>(null);
  const isPrinted = printed.of?.id === id;
  useEffect(() => {
    if (!isPrinted) return;
    const timer = window.setTimeout(() => {
      const at = window.document.activeElement;
      if (at !== null && at !== window.document.body && !at.matches('[data-left-page]')) return;
      (desk.current?.querySelector<HTMLElement>('[data-wanting=true]') ?? desk.current)?.focus({ preventScroll: true });
    }, 250);
    return () => window.clearTimeout(timer);
  }, [isPrinted]);
  useTitle(titleOf(written));

  // Until it was printed nothing is known of it; while it is typed over, what was known of it stays.
  const isSound = isPrinted && printed.draftProblems.length === 0;
  const sound = useSame(isSound ? printed.of : null);
  const [look, giveUp] = useSecondLook({ ...written, id }, printed.cartProblems.length === 0 ? cart : null, sound);
  useEffect(() => {
    giveUpLook.current = giveUp;
  }, [giveUp]);
  const { findings } = look;
  // What cannot be meant is told at its clause too, in the way of what cannot be read.
  const errors = findings
    .filter((finding) => finding.severity === 'error')
    .map((finding) => ({ at: finding.at, code: 'notMeant' as const, message: finding.sentence }));
  const problems = useSame([...printed.draftProblems, ...errors]);
  const clauses: Draft = useMemo(() => ({ document: written, problems, change: draft.change }), [written, problems, draft.change]);
  const comings = useSame(printed.comings);

  const canPutLive = isSound && errors.length === 0 && draft.theirs === null && !(saved.state === 'live' && !hasDraft);
  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (event.key !== 'Enter' || !(event.ctrlKey || event.metaKey)) return;
      // In a menu it chooses.
      if (event.target instanceof Element && event.target.closest('[role=menu], [role=listbox], [role=dialog]')) return;
      // Before a part that has the focus opens on it.
      event.preventDefault();
      event.stopPropagation();
      if (canPutLive) life.putLive();
    };
    window.addEventListener('keydown', keys, true);
    return () => window.removeEventListener('keydown', keys, true);
  });

  const head = problemsUnder(printed.draftProblems, '/name').concat(problemsUnder(printed.draftProblems, '/label'));
  const elsewhere = printed.draftProblems.filter(
    (problem) => !OWN.some((pointer) => problem.at === pointer || problem.at.startsWith(`${pointer}/`)),
  );
  return (
    <section ref={desk} aria-label="Desk" tabIndex={-1} className="flex h-full flex-col outline-none">
      <h1 className="sr-only">{titleOf(written)}</h1>
      <header className="border-b border-rule px-4 pt-2 pb-1.5">
        <div className="flex items-baseline gap-3">
          <Typed
            label="Name, for yourselves"
            prose
            placeholder="Give it a name"
            className="w-0 min-w-0 flex-1 border-b border-transparent bg-transparent text-[17px] font-medium hover:border-rule focus:border-ink"
            value={toText(written.name)}
            onType={(text) => draft.change(['name'], text)}
          />
          <StateMark
            phase={standing?.phase ?? (saved.state === 'live' ? 'running' : saved.state)}
            words={standing?.phaseText ?? STATE_WORDS[saved.state] ?? saved.state}
          />
          <Link href="/promotions" className="word shrink-0">
            all promotions
          </Link>
        </div>
        <p className="flex gap-2 text-faded leading-[24px]">
          the shopper reads
          <Typed
            label="Label, for the shopper"
            prose
            placeholder="the name"
            className="part fitted text-ink"
            value={textOf(written.label)}
            onType={(text) => draft.change(pathOfText(written.label, ['label']), text || undefined)}
          />
          <span className="min-w-0 flex-1 truncate text-right max-sm:hidden">{brought && <BroughtLink brought={brought} />}</span>
        </p>
        <p className="flex gap-2 text-faded leading-[24px]">
          note
          <Typed
            label="Note: why it exists"
            prose
            placeholder="why it exists"
            className="min-w-0 flex-1 bg-transparent text-ink"
            value={toText(written.note)}
            onType={(text) => draft.change(['note'], text || undefined)}
          />
          <Kept version={saved.version} hasDraft={hasDraft} keeping={draft.keeping} />
        </p>
        {[...head, ...elsewhere].map((problem) => (
          <p key={`${problem.at} ${problem.code}`} className="text-doubt">
            ⚠ {problem.at ? `${problem.at}: ` : ''}
            {problem.message}
          </p>
        ))}
      </header>
      {draft.theirs && <ConflictNotice theirs={draft.theirs} mine={written} words={printed.clauses} onSettle={draft.settle} />}
      {draft.failure && (
        <p role="alert" className="border-b border-rule bg-doubted px-4 py-1 text-doubt">
          ⚠ {draft.failure}
        </p>
      )}
      {life.breaks && (
        <p role="alert" className="flex items-baseline gap-3 border-b border-rule bg-doubted px-4 py-1 text-doubt">
          <span className="min-w-0 flex-1">⚠ {life.breaks}</span>
          <button type="button" className="word" onClick={() => life.drop(true)}>
            throw it away all the same
          </button>
          <button type="button" className="word" onClick={() => life.setBreaks(null)}>
            keep it
          </button>
        </p>
      )}
      <div className="min-h-0 flex-1 overflow-y-auto">
        <Clauses draft={clauses} write={draft.write} comings={comings} isSound={isSound} />
        {isSound && <SecondLook look={look} meant={meant} write={draft.write} onMean={mean} />}
        {isSound && <PriceCurve document={priced} sound={sound} />}
        <ReadBack clauses={printed.clauses} problems={printed.draftProblems.length} />
        <PastVersions id={id} revision={saved.revision} />
      </div>
      {isSound && <MostItCan desk={desk} document={{ ...written, id }} write={draft.write} />}
      <Foot
        life={life}
        draft={draft}
        hasDraft={hasDraft}
        canPutLive={canPutLive}
        why={whyNot(printed.draftProblems.length, errors.length, draft.theirs !== null)}
        errors={errors.length}
        doubts={findings.filter((finding) => finding.severity === 'doubt' && !meant.has(keyOfFinding(finding))).length}
        onFindings={() => {
          const first = desk.current?.querySelector<HTMLElement>('[data-testid=finding]');
          first?.scrollIntoView({ block: 'center' });
          first?.focus({ preventScroll: true });
        }}
      />
    </section>
  );
}

type ClausesProps = { draft: Draft; write: ReturnType<typeof useDraft>['write']; comings: NextOpening[]; isSound: boolean };

// Drawn again when the rule changes or what is said of it, not with every print.
const Clauses = memo(function Clauses({ draft, write, comings, isSound }: ClausesProps) {
  return (
    <>
      <Starts draft={draft} />
      <For draft={draft} />
      <When draft={draft} write={write} />
      <Gives draft={draft} />
      <Runs draft={draft} comings={comings} />
      <Until draft={draft} />
      <Alongside draft={draft} />
      <Says draft={draft} isSound={isSound} />
    </>
  );
});

/** It is priced as it would be if it were live. */
const asLive = (id: string, document: Json): Json => ({ ...document, id, state: 'live' });

/** Why it cannot be put live, told where it would be; what is live as it stands says so itself. */
function whyNot(unfinished: number, errors: number, isWrittenElsewhere: boolean): string | null {
  if (isWrittenElsewhere) return 'choose first which of the two to keep';
  if (unfinished > 0) return unfinished === 1 ? '1 part is not finished' : `${unfinished} parts are not finished`;
  if (errors > 0) return 'mend first what is marked ✕';
  return null;
}

// The members whose problems are told at a clause or at the head.
const OWN = ['/name', '/label', '/says', '/trigger', '/when', '/rewards', '/window', '/limits', '/stacking', '/rank'];

const STATE_WORDS: Record<string, string> = { draft: 'draft', live: 'live', paused: 'paused', archived: 'retired' };

/** The rule read back as the program understands it. */
function ReadBack({ clauses, problems }: { clauses: Words[]; problems: number }) {
  return (
    <section aria-label="Read back" className="px-4 py-3" data-testid="read-back">
      <h2 className="head-word">read back{problems > 0 ? ': as it was before it was unfinished' : ''}</h2>
      <p className={`mt-1 max-w-[68ch] text-[15px] leading-6 ${problems > 0 ? 'text-faded' : ''}`}>
        {clauses.map((clause, place) => (
          <span key={clause.name} className={clause.quiet ? 'text-faded' : ''}>
            {place > 0 && ' · '}
            {clause.text}
          </span>
        ))}
      </p>
    </section>
  );
}
