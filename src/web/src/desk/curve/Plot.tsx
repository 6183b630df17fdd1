import { useRef } from 'react';
import type { PlottedMark, PlottedPoint } from '../../api/client';
import { useWidth } from '../../ui/useWidth';

export type Against = 'units' | 'spend';

type Props = {
  points: PlottedPoint[];
  marks: PlottedMark[];
  against: Against;
  /** How many units the tape's cart holds; 0: none. */
  units: number;
  onMove: (units: number) => void;
  /** A place of the curve in words. */
  say: (point: PlottedPoint) => string;
  money: (amount: string) => string;
  label: string;
};

const HEIGHT = 132;
const EARNED = 34;
const LEFT = 58;
const RIGHT = 10;
const TOP = 8;

/** The curve as drawn: what is paid before and after, what is earned beneath it, and a cursor that pointer and keys move. */
export function Plot({ points, marks, against, units, onMove, say, money, label }: Props) {
  const frame = useRef<HTMLDivElement>(null);
  const width = useWidth(frame, 560);

  const last = points.at(-1);
  if (!last) return null;
  const along = (point: PlottedPoint) => (against === 'units' ? point.units : Number(point.spend));
  const highest = roundedUp(Math.max(...points.map((point) => Math.max(Number(point.before), Number(point.after)))));
  const earned = points.map((point) => (point.margin == null ? 0 : Number(point.margin)));
  const most = Math.max(1e-9, ...earned.map(Math.abs));
  const x = (at: number) => LEFT + ((width - LEFT - RIGHT) * at) / Math.max(1e-9, along(last));
  const y = (amount: number) => TOP + (HEIGHT - TOP) * (1 - amount / highest);
  const zero = HEIGHT + 8 + EARNED / 2;
  const line = (of: (point: PlottedPoint) => string) => points.map((point) => `${x(along(point))},${y(Number(of(point)))}`).join(' ');
  const places = (kind: string) => new Set(marks.filter((mark) => mark.kind === kind).flatMap((mark) => mark.places));
  const [cliffs, flats] = [places('cliff'), places('flat')];
  const step = (width - LEFT - RIGHT) / points.length;
  const here = points.find((point) => point.units === units);

  const moveTo = (clientX: number) => {
    const box = frame.current?.getBoundingClientRect();
    if (!box) return;
    const at = ((clientX - box.left - LEFT) / (width - LEFT - RIGHT)) * along(last);
    const nearest = points.reduce((best, point) => (Math.abs(along(point) - at) < Math.abs(along(best) - at) ? point : best), last);
    if (nearest.units !== units) onMove(nearest.units);
  };
  const steps: Record<string, number> = {
    ArrowLeft: units - 1,
    ArrowDown: units - 1,
    ArrowRight: units + 1,
    ArrowUp: units + 1,
    PageDown: units - 10,
    PageUp: units + 10,
    Home: 1,
    End: last.units,
  };
  return (
    <div
      ref={frame}
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-valuemin={1}
      aria-valuemax={last.units}
      aria-valuenow={Math.max(1, Math.min(last.units, units))}
      aria-valuetext={here ? say(here) : 'none of it is in the cart'}
      className="relative touch-none select-none"
      data-testid="curve"
      onKeyDown={(event) => {
        const to = steps[event.key];
        if (to === undefined || event.ctrlKey || event.metaKey || event.altKey) return;
        event.preventDefault();
        event.stopPropagation();
        onMove(Math.max(1, Math.min(last.units, to)));
      }}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        moveTo(event.clientX);
      }}
      onPointerMove={(event) => event.currentTarget.hasPointerCapture(event.pointerId) && moveTo(event.clientX)}
    >
      <svg width={width} height={HEIGHT + EARNED + 34} aria-hidden="true" className="block font-mono text-[11px]">
        {[1, 0.5, 0].map((share) => (
          <g key={share}>
            <line x1={LEFT} x2={width - RIGHT} y1={y(highest * share)} y2={y(highest * share)} stroke="var(--rule)" />
            <text x={LEFT - 6} y={y(highest * share) + 4} textAnchor="end" fill="var(--faded)">
              {money((highest * share).toFixed(2))}
            </text>
          </g>
        ))}
        <polyline points={line((point) => point.before)} fill="none" stroke="var(--faded)" strokeDasharray="2 3" strokeWidth="1.25" />
        <polyline points={line((point) => point.after)} fill="none" stroke="var(--ink)" strokeWidth="1.75" />
        {points.map((point, place) => {
          const from = points[place - 1];
          if (!from || !(cliffs.has(point.units) || flats.has(point.units))) return null;
          return (
            <line
              key={point.units}
              x1={x(along(from))}
              y1={y(Number(from.after))}
              x2={x(along(point))}
              y2={y(Number(point.after))}
              stroke={cliffs.has(point.units) ? 'var(--red)' : 'var(--stamp)'}
              strokeWidth="3.5"
            />
          );
        })}
        <line x1={LEFT} x2={width - RIGHT} y1={zero} y2={zero} stroke="var(--ink)" strokeWidth="0.75" />
        <text x={LEFT - 6} y={zero + 4} textAnchor="end" fill="var(--faded)">
          margin
        </text>
        {points.map((point, place) => {
          const margin = earned[place] ?? 0;
          const tall = Math.max(margin === 0 ? 0 : 1, (Math.abs(margin) / most) * (EARNED / 2));
          return (
            <rect
              key={point.units}
              x={x(along(point)) - Math.min(4, step * 0.4)}
              width={Math.max(1, Math.min(8, step * 0.8))}
              y={margin < 0 ? zero : zero - tall}
              height={tall}
              fill={margin < 0 ? 'var(--red)' : 'var(--rule)'}
            />
          );
        })}
        {[0.25, 0.5, 0.75, 1].map((share) => {
          const point = points[Math.round(points.length * share) - 1];
          if (!point) return null;
          return (
            <text
              key={share}
              x={Math.min(x(along(point)), width - RIGHT)}
              y={HEIGHT + EARNED + 26}
              textAnchor={share === 1 ? 'end' : 'middle'}
              fill="var(--faded)"
            >
              {against === 'units' ? point.units : money(point.spend)}
            </text>
          );
        })}
        {here && (
          <g>
            <line x1={x(along(here))} x2={x(along(here))} y1={TOP} y2={HEIGHT + EARNED + 12} stroke="var(--stamp)" strokeWidth="1.5" />
            <circle cx={x(along(here))} cy={y(Number(here.after))} r="4" fill="var(--paper)" stroke="var(--stamp)" strokeWidth="2" />
          </g>
        )}
      </svg>
    </div>
  );
}

// To one or two digits, so that the scale reads easily.
function roundedUp(amount: number): number {
  if (amount <= 0) return 1;
  const unit = 10 ** Math.floor(Math.log10(amount)) / 2;
  return Math.ceil(amount / unit) * unit;
}
