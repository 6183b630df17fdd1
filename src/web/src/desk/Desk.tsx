import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { Link, useLocation } from 'wouter';
import { answered, api, type Finding, type Json, type PromotionPage, Refused, type Clause as Words } from '../api/client';
import { usePromotion, useStanding } from '../api/queries';
import { Dates, Moment, type NewDates, putBack, redate } from '../shop/Dates';
import { type Draft, pathOfText, problemsUnder, textOf } from '../shop/document';
import { StateMark } from '../shop/StateMark';
import { clockOf, useCart } from '../tape/cart';
import type { Printed } from '../tape/usePrint';
import { toText } from '../ui/numbers';
import { Popup } from '../ui/Popup';
import { Typed } from '../ui/Typed';
import { useHistory, useHistoryEnds } from '../ui/undo';
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
import { MostItCan } from './MostItCan';
import { PastVersions } from './PastVersions';
import { keyOfFinding, SecondLook } from './SecondLook';
import { type Keeping, useDraft } from './useDraft';

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
  const [, go] = useLocation();
  const queries = useQueryClient();
  const history = useHistory();
  const ends = useHistoryEnds();
  const { cart } = useCart();
  const draft = useDraft(page);
  const { saved, document: written, keeping, act } = draft;
  const id = page.id;
  const { data: standing } = useStanding(id, clockOf(cart.at), saved.revision);
  const [meant, setMeant] = useState<ReadonlySet<string>>(() => new Set(page.meant));
  // Why what is done next is done: it goes with the edition that comes of it.
  const [reason, setReason] = useState('');
  const [breaks, setBreaks] = useState<string | null>(null);

  useEffect(() => {
    onDraft({ id, document: { ...written, id, state: 'live' } });
  }, [id, written, onDraft]);
  useEffect(() => () => onDraft(null), [onDraft]);

  // What must still be chosen is where one goes on; else the desk has the keys.
  const desk = useRef<HTMLElement>(null);
  useEffect(() => {
    const timer = window.setTimeout(() => {
      const at = window.document.activeElement;
      if (at !== null && at !== window.document.body) return;
      (desk.current?.querySelector<HTMLElement>('[data-wanting=true]') ?? desk.current)?.focus({ preventScroll: true });
    }, 300);
    return () => window.clearTimeout(timer);
  }, []);
  useTitle(titleOf(written));

  const findings = printed.draftProblems.length > 0 ? [] : printed.findings;
  // What cannot be meant is told at its clause too, in the way of what cannot be read.
  const errors = findings
    .filter((finding) => finding.severity === 'error')
    .map((finding) => ({ at: finding.at, code: finding.check, message: finding.sentence }));
  const clauses: Draft = { document: written, problems: [...printed.draftProblems, ...errors], change: draft.change };
  const doubts = findings.filter((finding) => finding.severity !== 'remark' && !meant.has(keyOfFinding(finding))).length;
  const hasDraft = saved.hasDraft || keeping !== 'kept';
  const path = { path: { id } };

  const given = reason.trim() || null;
  const putLive = async () => {
    const after = await act((revision, document) =>
      answered<PromotionPage>(
        api.POST('/api/promotions/{id}/live', { params: path, body: { revision, document: document as never, reason: given } }),
      ),
    );
    if (after) setReason('');
  };
  const stateTo = (to: 'pause' | 'retire' | 'resume', why: string | null = null) =>
    act((revision) =>
      answered<PromotionPage>(api.POST(`/api/promotions/{id}/${to}`, { params: path, body: { revision, document: null, reason: why } })),
    );
  const dateTo = (dates: NewDates, why?: string) =>
    act(async (revision) => {
      const after = await redate({ id, revision }, dates, why);
      draft.adopt(after, null);
      return after;
    });
  const setDates = async (dates: NewDates, words: string) => {
    const before: PromotionPage = { ...saved, document: written, hasDraft };
    const after = await dateTo(dates, reason.trim() || undefined);
    if (!after) return;
    setReason('');
    history.push({
      words: `${titleOf(written)}: ${words}`,
      of: `draft ${id}`,
      undo: async () =>
        void (await act(async (revision) => {
          const back = await putBack(before, revision);
          draft.adopt(back, null);
          return back;
        })),
      redo: async () => void (await dateTo(dates)),
    });
  };
  const mean = async (finding: Finding, isMeant: boolean) => {
    const set = async (to: boolean) => {
      // Kept first: what is shown as meant is so after a reload too, unless the server does not answer.
      await answered(
        api.PUT('/api/promotions/{id}/meant', {
          params: path,
          body: { finding: keyOfFinding(finding), words: finding.sentence, meant: to },
        }),
      ).catch(() => {});
      setMeant((old) => {
        const next = new Set(old);
        if (to) next.add(keyOfFinding(finding));
        else next.delete(keyOfFinding(finding));
        return next;
      });
    };
    await set(isMeant);
    history.push({
      words: isMeant ? 'I mean it' : 'no longer meant',
      of: `draft ${id}`,
      undo: async () => void (await set(!isMeant)),
      redo: async () => void (await set(isMeant)),
    });
  };
  // What was done to the saved promotion can be taken back too.
  const setState = async (to: 'pause' | 'retire' | 'resume') => {
    const before = saved.state;
    const after = await stateTo(to, given);
    if (!after) return;
    setReason('');
    const back = before === 'live' ? 'resume' : 'pause';
    history.push({
      words: `${to}: ${titleOf(written)}`,
      of: `draft ${id}`,
      undo: async () => void (await stateTo(back)),
      redo: async () => void (await stateTo(to)),
    });
  };
  const copy = async () => {
    const made = await act(async () => {
      const fresh = await answered<PromotionPage>(api.POST('/api/promotions/{id}/copy', { params: path }));
      go(`/promotions/${fresh.id}`);
      return undefined;
    });
    return made;
  };
  const drop = (confirmed: boolean) =>
    act(async (revision) => {
      try {
        await answered(api.DELETE('/api/promotions/{id}/draft', { params: { ...path, query: { revision, confirmed } } }));
      } catch (error) {
        // Others name it: whoever throws it away is told first.
        if (!(error instanceof Refused) || error.problems[0]?.code !== 'inUse') throw error;
        setBreaks(error.message);
        return undefined;
      }
      localStorage.removeItem(`rapid-ledger.draft.${id}`);
      if (saved.version === null) {
        const gone = written;
        history.push({
          words: `thrown away: ${titleOf(gone)}`,
          of: 'list',
          undo: async () => {
            const again = await answered<PromotionPage>(api.POST('/api/promotions', { body: { document: gone as never } }));
            queries.invalidateQueries({ queryKey: ['promotions'] });
            go(`/promotions/${again.id}`);
          },
          redo: () => go('/promotions'),
        });
        go('/promotions');
        return undefined;
      }
      const after = await answered<PromotionPage>(api.GET('/api/promotions/{id}', { params: path }));
      draft.adopt(after);
      return after;
    });

  const canPutLive =
    printed.draftProblems.length === 0 && errors.length === 0 && draft.theirs === null && !(saved.state === 'live' && !hasDraft);
  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (event.key !== 'Enter' || !(event.ctrlKey || event.metaKey)) return;
      event.preventDefault();
      if (canPutLive) putLive();
    };
    window.addEventListener('keydown', keys);
    return () => window.removeEventListener('keydown', keys);
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
            placeholder="Give it a name"
            className="w-0 min-w-0 flex-1 border-b border-transparent bg-transparent text-[17px] font-semibold hover:border-rule focus:border-ink"
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
            placeholder="the name"
            className="part fitted text-ink"
            value={textOf(written.label)}
            onType={(text) => draft.change(pathOfText(written.label, ['label']), text || undefined)}
          />
        </p>
        <p className="flex gap-2 text-faded leading-[24px]">
          note
          <Typed
            label="Note: why it exists"
            placeholder="why it exists"
            className="min-w-0 flex-1 bg-transparent text-ink"
            value={toText(written.note)}
            onType={(text) => draft.change(['note'], text || undefined)}
          />
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
      {breaks && (
        <p role="alert" className="flex items-baseline gap-3 border-b border-rule bg-doubted px-4 py-1 text-doubt">
          <span className="min-w-0 flex-1">⚠ {breaks}</span>
          <button type="button" className="word" onClick={() => drop(true)}>
            throw it away all the same
          </button>
          <button type="button" className="word" onClick={() => setBreaks(null)}>
            keep it
          </button>
        </p>
      )}
      <div className="min-h-0 flex-1 overflow-y-auto">
        <Starts draft={clauses} />
        <For draft={clauses} />
        <When draft={clauses} write={draft.write} />
        <Gives draft={clauses} />
        <Runs draft={clauses} comings={printed.comings} />
        <Until draft={clauses} />
        <Alongside draft={clauses} />
        <Says draft={clauses} isSound={printed.draftProblems.length === 0} />
        {printed.draftProblems.length === 0 && <PriceCurve document={{ ...written, id, state: 'live' }} />}
        {printed.draftProblems.length === 0 && <SecondLook findings={findings} meant={meant} write={draft.write} onMean={mean} />}
        <ReadBack clauses={printed.clauses} problems={printed.draftProblems.length} />
        <PastVersions id={id} revision={saved.revision} />
      </div>
      {printed.draftProblems.length === 0 && <MostItCan desk={desk} document={{ ...written, id }} write={draft.write} />}
      <footer className="flex flex-wrap items-center gap-x-4 gap-y-1 border-t border-ink px-4 py-2">
        <button type="button" className="stamp" onClick={() => canPutLive && putLive()} aria-disabled={!canPutLive} title="Ctrl Enter">
          {saved.state === 'live' && hasDraft ? 'Put the change live' : saved.state === 'live' ? 'Is live' : 'Put live'}
        </button>
        {saved.state !== 'live' && (
          <Popup label="Put live at a moment" words="at…" className="word" width={330}>
            {(close) => (
              <Moment
                label="Live from"
                edge="start"
                take="put live"
                onTake={(start) => {
                  close();
                  draft.change(['window', 'start'], start);
                  putLive();
                }}
              />
            )}
          </Popup>
        )}
        <Popup
          label="Why, to be kept with the edition"
          words={reason.trim() ? `because ${reason.trim()}` : 'because…'}
          className="word because"
        >
          {(close) => (
            <form
              onSubmit={(event) => {
                event.preventDefault();
                close();
              }}
            >
              <label>
                Why, to be kept with the edition
                <input
                  autoFocus
                  maxLength={200}
                  className="mt-1 block w-full border-b border-ink bg-transparent px-1 py-0.5"
                  value={reason}
                  onChange={(event) => setReason(event.target.value)}
                />
              </label>
            </form>
          )}
        </Popup>
        {doubts > 0 && <span className="text-doubt">⚠ {doubts === 1 ? 'one doubt' : `${doubts} doubts`}</span>}
        {saved.state !== 'draft' && (
          // One button whatever it says, so that the focus stays on it.
          <button type="button" className="word" onClick={() => setState(saved.state === 'live' ? 'pause' : 'resume')}>
            {saved.state === 'live' ? 'pause' : saved.state === 'paused' ? 'go on' : 'bring back'}
          </button>
        )}
        {saved.state !== 'draft' && <Dates words="dates…" onSet={setDates} />}
        <button type="button" className="word" onClick={copy}>
          copy
        </button>
        {(saved.state === 'live' || saved.state === 'paused') && (
          <button type="button" className="word" onClick={() => setState('retire')}>
            retire
          </button>
        )}
        {hasDraft && (
          <button type="button" className="word" onClick={() => drop(false)}>
            {saved.version === null ? 'throw this draft away' : 'back to what was saved'}
          </button>
        )}
        <span className="flex-1" />
        <button
          type="button"
          className="word"
          onClick={() => history.undo()}
          disabled={!ends.last}
          title={ends.last ? `Ctrl Z takes back: ${ends.last}` : undefined}
        >
          undo
        </button>
        <button
          type="button"
          className="word"
          onClick={() => history.redo()}
          disabled={!ends.next}
          title={ends.next ? `Ctrl Shift Z does again: ${ends.next}` : undefined}
        >
          redo
        </button>
        <span className="text-faded" data-testid="keeping">
          {hasDraft ? KEEPING[keeping] : `version ${saved.version}`}
        </span>
      </footer>
    </section>
  );
}

const titleOf = (document: Json) => toText(document.name) || textOf(document.label) || 'a promotion';

// The members whose problems are told at a clause or at the head.
const OWN = ['/name', '/label', '/says', '/trigger', '/when', '/rewards', '/window', '/limits', '/stacking', '/rank'];

const STATE_WORDS: Record<string, string> = { draft: 'draft', live: 'live', paused: 'paused', archived: 'retired' };

const KEEPING: Record<Keeping, string> = {
  kept: 'draft kept',
  keeping: 'keeping…',
  waiting: 'kept in this browser until the server answers',
  conflict: 'written elsewhere too',
};

/** The rule read back as the program understands it. */
function ReadBack({ clauses, problems }: { clauses: Words[]; problems: number }) {
  return (
    <section aria-label="Read back" className="px-4 py-3" data-testid="read-back">
      <h2 className="head-word">read back{problems > 0 ? ': as it was when it last made sense' : ''}</h2>
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
