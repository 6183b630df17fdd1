import { Moment } from '../shop/Dates';
import { type Action, useActions } from '../ui/actions';
import { capital } from '../ui/format';
import { Popup } from '../ui/Popup';
import { useHistory, useHistoryEnds } from '../ui/undo';
import type { useDraft } from './useDraft';
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

/** What can be done to the promotion as a whole. */
export function Foot({ life, draft, hasDraft, canPutLive, why, errors, doubts, onFindings }: Props) {
  const history = useHistory();
  const ends = useHistoryEnds();
  const { saved } = draft;
  const { reason, setReason, putLive, setState, copy, drop } = life;
  const isLive = saved.state === 'live';
  const stamp = { key: 'live', words: isLive && hasDraft ? 'put the change live' : 'put live', detail: HERE, run: putLive };
  const deeds: Deed[] = [
    ...(saved.state === 'draft'
      ? []
      : [{ key: 'state', words: ONWARD[saved.state] ?? 'bring back', run: () => setState(isLive ? 'pause' : 'resume') }]),
    { key: 'copy', words: 'copy', run: copy },
    ...(isLive || saved.state === 'paused' ? [{ key: 'retire', words: 'retire', run: () => setState('retire') }] : []),
    ...(hasDraft
      ? [{ key: 'drop', words: saved.version === null ? 'throw this draft away' : 'back to what was saved', run: () => drop(false) }]
      : []),
  ];
  const ways: Deed[] = [
    {
      key: 'undo',
      words: 'undo',
      detail: ends.last ?? 'nothing to take back',
      title: ends.last && `Ctrl Z takes back: ${ends.last}`,
      run: () => history.undo(),
      isOff: !ends.last,
    },
    {
      key: 'redo',
      words: 'redo',
      detail: ends.next ?? 'nothing to do again',
      title: ends.next && `Ctrl Shift Z does again: ${ends.next}`,
      run: () => history.redo(),
      isOff: !ends.next,
    },
  ];
  useActions([...(canPutLive ? [stamp] : []), ...deeds, ...ways].map((deed) => ({ detail: HERE, ...deed })));
  return (
    <footer className="flex flex-wrap items-center gap-x-3.5 gap-y-1 border-t border-ink px-4 py-2">
      <button type="button" className="stamp" onClick={() => canPutLive && putLive()} aria-disabled={!canPutLive} title="Ctrl Enter">
        {isLive && !hasDraft ? 'Is live' : capital(stamp.words)}
      </button>
      {!isLive && (
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
      <Deeds of={deeds} />
      <span className="flex-1" />
      <Deeds of={ways} />
    </footer>
  );
}

// What is a button here is offered by the command line too.
type Deed = Action & { key: string; title?: string; isOff?: boolean };

// By its kind, not by its words: the focus stays on a button that says something else now.
function Deeds({ of }: { of: Deed[] }) {
  return of.map(({ key, words, title, run, isOff }) => (
    <button key={key} type="button" className="word" onClick={run} disabled={isOff} title={title}>
      {words}
    </button>
  ));
}

const ONWARD: Record<string, string> = { live: 'pause', paused: 'resume' };

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
