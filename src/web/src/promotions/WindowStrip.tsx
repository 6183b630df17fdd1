import { useShopContext } from '../shop/shop';

const BEFORE = 7;
const AFTER = 42;
const WIDTH = 132;

/** A promotion's window against the weeks around the clock. */
export function WindowStrip({ opens, closes, at, off }: { opens: string | null; closes: string | null; at: number; off: boolean }) {
  const { format } = useShopContext();
  const first = at - BEFORE * 86_400_000;
  const span = (BEFORE + AFTER) * 86_400_000;
  const x = (moment: number) => Math.max(0, Math.min(WIDTH, ((moment - first) / span) * WIDTH));
  const from = opens ? x(Date.parse(opens)) : 0;
  const to = closes ? x(Date.parse(closes)) : WIDTH;
  const words = `${opens ? `from ${format.moment(opens)}` : 'no start'}${closes ? ` to ${format.moment(closes)}` : ', no end'}`;
  return (
    <svg viewBox={`0 0 ${WIDTH} 14`} width={WIDTH} height="14" role="img" aria-label={words}>
      <title>{words}</title>
      {Array.from({ length: (BEFORE + AFTER) / 7 + 1 }, (_, week) => week).map((week) => (
        <path key={week} d={`M${(week * 7 * WIDTH) / (BEFORE + AFTER)} 4v6`} stroke="var(--rule)" />
      ))}
      {to > from && (
        <rect
          x={from}
          y="5"
          width={Math.max(1.5, to - from)}
          height="4"
          fill={off ? 'none' : 'var(--ink)'}
          stroke={off ? 'var(--faded)' : 'none'}
        />
      )}
      {closes && to > 0 && to < WIDTH && <path d={`M${to} 2v10`} stroke="var(--ink)" strokeWidth="1.5" />}
      {opens && from > 0 && from < WIDTH && <path d={`M${from} 2v10`} stroke="var(--ink)" strokeWidth="1.5" />}
      <path d={`M${x(at)} 0v14`} stroke="var(--stamp)" strokeWidth="1.5" />
    </svg>
  );
}
