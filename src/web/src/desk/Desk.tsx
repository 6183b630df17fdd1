import { useEffect } from 'react';
import { Link, useLocation } from 'wouter';
import { answered, api, type Json, type PromotionPage, Refused, type Clause as Words } from '../api/client';
import { usePromotion } from '../api/queries';
import { StateMark } from '../shop/StateMark';
import type { Printed } from '../tape/usePrint';
import { toText } from '../ui/numbers';
import { Typed } from '../ui/Typed';
import { ConflictNotice } from './ConflictNotice';
import { Alongside } from './clauses/Alongside';
import { For } from './clauses/For';
import { Gives } from './clauses/Gives';
import { Runs } from './clauses/Runs';
import { Starts } from './clauses/Starts';
import { Until } from './clauses/Until';
import { When } from './clauses/When';
import { type Draft, problemsUnder } from '../shop/document';
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
  const draft = useDraft(page);
  const { saved, document: written, keeping, act } = draft;
  const id = page.id;

  useEffect(() => {
    onDraft({ id, document: { ...written, id, state: 'live' } });
  }, [id, written, onDraft]);
  useEffect(() => () => onDraft(null), [onDraft]);

  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z') return;
      event.preventDefault();
      (window.document.activeElement as HTMLElement | null)?.blur();
      if (event.shiftKey) draft.redo();
      else draft.undo();
    };
    window.addEventListener('keydown', keys);
    return () => window.removeEventListener('keydown', keys);
  }, [draft.undo, draft.redo]);

  const clauses: Draft = { document: written, problems: printed.draftProblems, change: draft.change };
  const hasDraft = saved.hasDraft || keeping !== 'kept';
  const path = { path: { id } };

  const putLive = () =>
    act((revision, document) =>
      answered<PromotionPage>(api.POST('/api/promotions/{id}/live', { params: path, body: { revision, document: document as never } })),
    );
  const pause = () =>
    act((revision) =>
      answered<PromotionPage>(api.POST('/api/promotions/{id}/pause', { params: path, body: { revision, document: null } })),
    );
  const retire = () =>
    act((revision) =>
      answered<PromotionPage>(api.POST('/api/promotions/{id}/retire', { params: path, body: { revision, document: null } })),
    );
  const copy = async () => {
    const made = await act(async () => {
      const fresh = await answered<PromotionPage>(api.POST('/api/promotions/{id}/copy', { params: path }));
      go(`/promotions/${fresh.id}`);
      return undefined;
    });
    return made;
  };
  const drop = () =>
    act(async (revision) => {
      await answered(api.DELETE('/api/promotions/{id}/draft', { params: { ...path, query: { revision } } }));
      if (saved.version === null) {
        go('/promotions');
        return undefined;
      }
      const after = await answered<PromotionPage>(api.GET('/api/promotions/{id}', { params: path }));
      draft.adopt(after);
      return after;
    });

  const head = problemsUnder(printed.draftProblems, '/name').concat(problemsUnder(printed.draftProblems, '/label'));
  const elsewhere = printed.draftProblems.filter(
    (problem) => !OWN.some((pointer) => problem.at === pointer || problem.at.startsWith(`${pointer}/`)),
  );
  return (
    <section aria-label="Desk" className="flex h-full flex-col">
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
            phase={saved.state === 'archived' ? 'archived' : saved.state === 'live' ? 'running' : saved.state}
            words={STATE_WORDS[saved.state] ?? saved.state}
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
            value={toText(written.label)}
            onType={(text) => draft.change(['label'], text || undefined)}
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
      {draft.theirs && <ConflictNotice theirs={draft.theirs} mine={written} onSettle={draft.settle} />}
      {draft.failure && (
        <p role="alert" className="border-b border-rule bg-doubted px-4 py-1 text-doubt">
          ⚠ {draft.failure}
        </p>
      )}
      <div className="min-h-0 flex-1 overflow-y-auto">
        <Starts draft={clauses} />
        <For draft={clauses} />
        <When draft={clauses} write={draft.write} />
        <Gives draft={clauses} words={printed.clauses.find((clause) => clause.name === 'gives')?.text.replace(/^Gives /, '') ?? ''} />
        <Runs draft={clauses} />
        <Until draft={clauses} />
        <Alongside draft={clauses} />
        <ReadBack clauses={printed.clauses} problems={printed.draftProblems.length} />
      </div>
      <footer className="flex items-center gap-4 border-t border-ink px-4 py-2">
        <button
          type="button"
          className="stamp"
          onClick={putLive}
          disabled={printed.draftProblems.length > 0 || (saved.state === 'live' && !hasDraft)}
        >
          {saved.state === 'live' && hasDraft ? 'Put the change live' : saved.state === 'live' ? 'Is live' : 'Put live'}
        </button>
        {saved.state === 'live' && (
          <button type="button" className="word" onClick={pause}>
            pause
          </button>
        )}
        <button type="button" className="word" onClick={copy}>
          copy
        </button>
        {(saved.state === 'live' || saved.state === 'paused') && (
          <button type="button" className="word" onClick={retire}>
            retire
          </button>
        )}
        {hasDraft && (
          <button type="button" className="word" onClick={drop}>
            {saved.version === null ? 'throw this draft away' : 'back to what was saved'}
          </button>
        )}
        <span className="flex-1" />
        <button type="button" className="word" onClick={draft.undo} disabled={!draft.canUndo} title="Ctrl Z">
          undo
        </button>
        <button type="button" className="word" onClick={draft.redo} disabled={!draft.canRedo} title="Ctrl Shift Z">
          redo
        </button>
        <span className="text-faded" data-testid="keeping">
          {hasDraft ? KEEPING[keeping] : `version ${saved.version}`}
        </span>
      </footer>
    </section>
  );
}

// The members whose problems are told at a clause or at the head.
const OWN = ['/name', '/label', '/trigger', '/when', '/rewards', '/window', '/limits', '/stacking', '/rank'];

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
