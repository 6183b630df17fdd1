import { useTakingsGlance } from '../api/queries';
import { Moment } from '../shop/Dates';
import { BroughtLink } from '../takings/BroughtLink';
import { useActions } from '../ui/actions';
import { Popup } from '../ui/Popup';
import { useHistory, useHistoryEnds } from '../ui/undo';
import type { Keeping, useDraft } from './useDraft';
import type { Life } from './useLife';

type Props = {
  life: Life;
  draft: ReturnType<typeof useDraft>;
  hasDraft: boolean;
  canPutLive: boolean;
  /** Why it cannot be put live, if it cannot. */
  why: string | null;
  errors: number;
  doubts: number;
  onFindings: () => void;
};

/** What can be done to the promotion as a whole, and whether it is kept. */
export function Foot({ life, draft, hasDraft, canPutLive, why, errors, doubts, onFindings }: Props) {
  const history = useHistory();
  const ends = useHistoryEnds();
  const { saved, keeping } = draft;
  const brought = useTakingsGlance().data?.get(saved.id);
  const { reason, setReason, putLive, setState, copy, drop } = life;
  const onward = saved.state === 'live' ? 'pause' : saved.state === 'paused' ? 'resume' : 'bring back';
  const mayRetire = saved.state === 'live' || saved.state === 'paused';
  const dropWords = saved.version === null ? 'throw this draft away' : 'back to what was saved';
  useActions([
    ...(canPutLive ? [{ words: hasDraft && saved.state === 'live' ? 'put the change live' : 'put live', detail: HERE, run: putLive }] : []),
    ...(saved.state === 'draft' ? [] : [{ words: onward, detail: HERE, run: () => setState(saved.state === 'live' ? 'pause' : 'resume') }]),
    { words: 'copy', detail: HERE, run: copy },
    ...(mayRetire ? [{ words: 'retire', detail: HERE, run: () => setState('retire') }] : []),
    ...(hasDraft ? [{ words: dropWords, detail: HERE, run: () => drop(false) }] : []),
    { words: 'undo', detail: ends.last ?? 'nothing to take back', run: () => history.undo() },
    { words: 'redo', detail: ends.next ?? 'nothing to do again', run: () => history.redo() },
  ]);
  return (
    <footer className="flex flex-wrap items-center gap-x-3.5 gap-y-1 border-t border-ink px-4 py-2">
      <button type="button" className="stamp" onClick={() => canPutLive && putLive()} aria-disabled={!canPutLive} title="Ctrl Enter">
        {saved.state === 'live' && hasDraft ? 'Put the change live' : saved.state === 'live' ? 'Is live' : 'Put live'}
      </button>
      {saved.state !== 'live' && (
        <Popup label="Put live at a moment" words="put live later…" className="word" width={330}>
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
      {why && (
        <span className="text-faded" data-testid="why-not-live">
          {why}
        </span>
      )}
      <Because reason={reason} onSay={setReason} />
      {(errors > 0 || doubts > 0) && (
        <button type="button" className="word text-doubt" onClick={onFindings}>
          {[errors > 0 && `✕ ${counted(errors, 'error')}`, doubts > 0 && `⚠ ${counted(doubts, 'doubt')}`].filter(Boolean).join(' · ')}
        </button>
      )}
      {saved.state !== 'draft' && (
        // One button whatever it says, so that the focus stays on it.
        <button type="button" className="word" onClick={() => setState(saved.state === 'live' ? 'pause' : 'resume')}>
          {onward}
        </button>
      )}
      <button type="button" className="word" onClick={copy}>
        copy
      </button>
      {mayRetire && (
        <button type="button" className="word" onClick={() => setState('retire')}>
          retire
        </button>
      )}
      {hasDraft && (
        <button type="button" className="word" onClick={() => drop(false)}>
          {dropWords}
        </button>
      )}
      <span className="min-w-0 flex-1 truncate text-right">{brought && <BroughtLink brought={brought} isShort />}</span>
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
  );
}

const counted = (number: number, one: string) => `${number} ${one}${number === 1 ? '' : 's'}`;

/** Why what is done next is done: said once, kept with the edition that comes of it. */
function Because({ reason, onSay }: { reason: string; onSay: (reason: string) => void }) {
  return (
    <Popup label="Why, to be kept with the edition" words={reason.trim() ? `reason: ${reason.trim()}` : 'reason…'} className="word">
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
              onChange={(event) => onSay(event.target.value)}
            />
          </label>
        </form>
      )}
    </Popup>
  );
}

// Told beside each in the command line.
const HERE = 'this promotion';

const KEEPING: Record<Keeping, string> = {
  kept: 'draft kept',
  keeping: 'keeping…',
  waiting: 'kept in this browser until the server answers',
  conflict: 'written elsewhere too',
};
