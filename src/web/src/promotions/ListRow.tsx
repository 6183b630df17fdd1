import type { PromotionRow, TakingsGlance, TapePrint } from '../api/client';
import { StateMark } from '../shop/StateMark';
import { useShopContext } from '../shop/shop';
import { BroughtLink } from '../takings/BroughtLink';
import { add } from '../ui/format';
import { WindowStrip } from './WindowStrip';

/** How high a row is, in pixels. */
export const ROW = 46;

type RowProps = {
  row: PromotionRow;
  place: number;
  top: number;
  band: boolean;
  current: boolean;
  chosen: boolean;
  /** What a second look finds: errors and doubts. */
  doubts?: { errors: number; doubts: number };
  clock: number;
  print: TapePrint | null;
  /** What it brought in the last 28 days. */
  brought?: TakingsGlance;
  onOpen: () => void;
  onChoose: () => void;
};

/** One promotion of the list: its state, its rule, its window, how much of it is used, and what it takes from the tape's cart. */
export function Row({ row, place, top, band, current, chosen, doubts, clock, print, brought, onOpen, onChoose }: RowProps) {
  const { format } = useShopContext();
  const taken = (print?.entries ?? [])
    .filter((one) => one.promotion === row.id)
    .reduce((sum, one) => (sum ? add(sum, one.amount) : one.amount), '');
  const off = row.phase === 'draft' || row.phase === 'paused' || row.phase === 'archived';
  return (
    // The keys of a row are those of its list.
    // biome-ignore lint/a11y/useKeyWithClickEvents: see above
    <div
      id={`row-${row.id}`}
      role="row"
      aria-rowindex={place + 1}
      tabIndex={-1}
      aria-selected={chosen}
      data-testid="row"
      data-phase={row.phase}
      className={`absolute inset-x-0 grid cursor-pointer grid-cols-[1.2rem_minmax(0,1fr)_8.5rem_5.4rem_4.4rem] @max-[640px]:grid-cols-[1.2rem_minmax(0,1fr)_8.5rem_4.4rem] @max-[560px]:grid-cols-[1.2rem_minmax(0,1fr)_auto] content-center items-center gap-x-3 leading-[18px] border-b border-rule px-3 hover:bg-press ${chosen ? 'bg-stamped' : band ? 'bg-band' : ''} ${current ? 'shadow-[inset_3px_0_0_var(--stamp)]' : ''}`}
      style={{ top, height: ROW }}
      onClick={onOpen}
    >
      <span role="gridcell" className="row-span-2 leading-none">
        <input
          type="checkbox"
          tabIndex={-1}
          className="accent-[var(--stamp)]"
          aria-label={`Select ${row.name}`}
          checked={chosen}
          onClick={(event) => event.stopPropagation()}
          onChange={onChoose}
        />
      </span>
      <div role="gridcell" className="flex min-w-0 items-baseline gap-2">
        <span className={`truncate font-medium ${off ? 'text-faded' : ''}`}>{row.name}</span>
        {/* A name is the last thing to be shortened. */}
        <span className="min-w-4 shrink-[50] overflow-hidden whitespace-nowrap">
          <StateMark phase={row.phase} words={row.phaseText} />
        </span>
        {doubts && (
          <span
            className={`shrink-0 ${doubts.errors > 0 ? 'font-medium text-doubt' : 'text-doubt'}`}
            data-testid="row-findings"
            title="what a second look finds, at the foot of its page"
          >
            {doubts.errors > 0 ? '✕' : '⚠'} {doubts.errors + doubts.doubts}
            <span className="sr-only"> found by a second look</span>
          </span>
        )}
        {row.hasDraft && row.state !== 'draft' && <span className="shrink-0 text-doubt">changed, not live</span>}
      </div>
      <span role="gridcell" className="@max-[560px]:hidden">
        <WindowStrip opens={row.opens} closes={row.closes} at={clock} off={off} />
      </span>
      <UsedMark used={row.used} />
      <span role="gridcell" className="text-right font-mono text-tape text-red">
        {taken && print ? `−${format.plain(taken, print.currency)}` : ''}
      </span>
      <div
        role="gridcell"
        className={`${brought ? 'col-span-1 @max-[560px]:col-span-2' : 'col-span-4 @max-[640px]:col-span-3 @max-[560px]:col-span-2'} truncate text-faded`}
        title={row.sentence}
      >
        {row.problems > 0 && row.state === 'draft' ? (
          <span className="text-doubt">⚠ {row.problems === 1 ? 'one thing is' : `${row.problems} things are`} still to be said</span>
        ) : (
          row.sentence
        )}
      </div>
      {brought && <Brought brought={brought} />}
    </div>
  );
}

/** What a promotion brought in the last 28 days, one press from its takings. */
function Brought({ brought }: { brought: TakingsGlance }) {
  return (
    <span role="gridcell" className="col-span-3 truncate text-right @max-[640px]:col-span-2 @max-[560px]:hidden" data-testid="brought">
      <BroughtLink brought={brought} />
    </span>
  );
}

/** How much of the tightest limit is used; nothing where there is none. */
function UsedMark({ used }: { used: PromotionRow['used'] }) {
  if (!used) return <span role="gridcell" className="@max-[640px]:hidden" />;
  const high = used.share >= 0.75;
  return (
    <span
      role="gridcell"
      className="flex items-center gap-1.5 @max-[640px]:hidden font-mono text-[11px]"
      title={`${used.used} of ${used.of} used`}
    >
      <span className="h-1.5 w-10 shrink-0 border border-rule" aria-hidden="true">
        <span className={`block h-full ${high ? 'bg-doubt' : 'bg-ink'}`} style={{ width: `${Math.min(100, used.share * 100)}%` }} />
      </span>
      <span className={high ? 'text-doubt' : 'text-faded'}>{Math.round(used.share * 100)} %</span>
    </span>
  );
}
