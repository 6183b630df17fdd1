import { scaleBand, scaleLinear } from 'd3-scale';
import { line } from 'd3-shape';
import { useRef } from 'react';
import type { PromotionTakings } from '../api/client';
import { useShopContext } from '../shop/shop';
import { useWidth } from '../ui/useWidth';

const HEIGHT = 150;
const LEFT = 52;
const FOOT = 18;
const HEAD = 16;

/** Takings as bars in ink, what was given in red, margin as a line; a screen reader reads the table of the same figures. */
export function Bars({ takings }: { takings: PromotionTakings }) {
  const { format, info } = useShopContext();
  const frame = useRef<HTMLDivElement>(null);
  const width = useWidth(frame, 480);
  const { bars, unit, marks } = takings;
  const margins = bars.map((bar) => (bar.margin == null ? 0 : Number(bar.margin)));
  const highest = Math.max(1, ...bars.map((bar) => Math.max(Number(bar.takings), Number(bar.given))));
  const x = scaleBand<string>()
    .domain(bars.map((bar) => bar.at))
    .range([LEFT, width])
    .padding(bars.length > 60 ? 0.1 : 0.25);
  const y = scaleLinear()
    .domain([Math.min(0, ...margins), highest])
    .nice(4)
    .range([HEIGHT - FOOT, HEAD]);
  const middle = (at: string) => (x(at) ?? 0) + x.bandwidth() / 2;
  const half = x.bandwidth() / 2;
  const margin = line<(typeof bars)[number]>()
    .defined((bar) => bar.margin != null && bar.orders > 0)
    .x((bar) => middle(bar.at))
    .y((bar) => y(Number(bar.margin)));
  const short = (at: string) => sayAt(at, unit, info.locale);
  const every = Math.max(1, Math.ceil(bars.length / Math.max(2, Math.floor((width - LEFT) / 64))));
  const money = (amount: string) => format.plain(amount, info.currency);
  // A mark stands over the bar that its day is in.
  const barOf = (day: string) => bars.findLast((bar) => bar.at.slice(0, 10) <= day)?.at;
  return (
    <figure ref={frame} className="mx-4 mt-1">
      <svg
        width={width}
        height={HEIGHT}
        role="img"
        aria-label={`Takings, what was given and margin by ${unit}: the table below says the same`}
        data-testid="takings-picture"
      >
        {y.ticks(4).map((tick) => (
          <g key={tick}>
            <line
              x1={LEFT}
              x2={width}
              y1={y(tick)}
              y2={y(tick)}
              stroke={tick === 0 ? 'var(--ink)' : 'var(--rule)'}
              strokeWidth={tick === 0 ? 1 : 0.6}
            />
            <text x={LEFT - 6} y={y(tick) + 3.5} textAnchor="end" fontSize="10.5" fill="var(--faded)">
              {format.number(tick)}
            </text>
          </g>
        ))}
        {bars.map((bar, place) => (
          <g key={bar.at}>
            <title>{`${short(bar.at)}: ${bar.orders} orders, takings ${money(bar.takings)}, given ${money(bar.given)}${bar.margin == null ? '' : `, margin ${money(bar.margin)}`}`}</title>
            <rect
              x={x(bar.at)}
              y={y(Number(bar.takings))}
              width={half}
              height={Math.max(0, y(0) - y(Number(bar.takings)))}
              fill="var(--ink)"
            />
            <rect
              x={(x(bar.at) ?? 0) + half}
              y={y(Number(bar.given))}
              width={half}
              height={Math.max(0, y(0) - y(Number(bar.given)))}
              fill="var(--red)"
            />
            {place % every === 0 && (
              <text x={middle(bar.at)} y={HEIGHT - 4} textAnchor="middle" fontSize="10.5" fill="var(--faded)">
                {short(bar.at)}
              </text>
            )}
          </g>
        ))}
        <path d={margin(bars) ?? ''} fill="none" stroke="var(--stamp)" strokeWidth="1.5" />
        {marks.map((mark) => {
          const at = barOf(mark.day);
          return at === undefined ? null : (
            <g key={`${mark.day} ${mark.what} ${mark.edition}`}>
              <title>{`${mark.what}, edition ${mark.edition}`}</title>
              <line x1={x(at)} x2={x(at)} y1={HEAD - 4} y2={HEIGHT - FOOT} stroke="var(--stamp)" strokeDasharray="2 2" />
              <text
                x={(x(at) ?? 0) + ((x(at) ?? 0) > width - 60 ? -3 : 3)}
                textAnchor={(x(at) ?? 0) > width - 60 ? 'end' : 'start'}
                y={HEAD - 5}
                fontSize="10.5"
                fill="var(--stamp)"
              >
                {mark.what}
              </text>
            </g>
          );
        })}
      </svg>
      <figcaption className="flex gap-4 text-faded">
        <Key colour="var(--ink)" words="takings" />
        <Key colour="var(--red)" words="given" />
        <Key colour="var(--stamp)" words="margin" thin />
        <span className="flex-1 text-right">by {unit}</span>
        <button type="button" className="word" onClick={() => save(frame.current?.querySelector('svg') ?? null, takings.name)}>
          save the picture
        </button>
      </figcaption>
      <table className="sr-only" aria-label={`Takings by ${unit}`}>
        <thead>
          <tr>
            {[unit, 'orders', 'takings', 'given', 'margin'].map((head) => (
              <th key={head} scope="col">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {bars.map((bar) => (
            <tr key={bar.at}>
              <th scope="row">{short(bar.at)}</th>
              <td>{bar.orders}</td>
              <td>{money(bar.takings)}</td>
              <td>{money(bar.given)}</td>
              <td>{bar.margin == null ? 'not known' : money(bar.margin)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </figure>
  );
}

/** Saves the picture as SVG, in the colours in which it stands here. */
function save(picture: SVGSVGElement | null, name: string) {
  if (!picture) return;
  const copy = picture.cloneNode(true) as SVGSVGElement;
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg');
  const page = getComputedStyle(picture);
  copy.setAttribute('style', `background: ${page.getPropertyValue('--paper')}; font-family: sans-serif`);
  const written = new XMLSerializer().serializeToString(copy).replace(/var\((--[a-z]+)\)/g, (_, colour) => page.getPropertyValue(colour));
  const link = document.createElement('a');
  link.href = URL.createObjectURL(new Blob([written], { type: 'image/svg+xml' }));
  link.download = `takings ${name}.svg`;
  link.click();
  URL.revokeObjectURL(link.href);
}

function Key({ colour, words, thin = false }: { colour: string; words: string; thin?: boolean }) {
  return (
    <span className="inline-flex items-center gap-1.5">
      <span className={`inline-block w-3 ${thin ? 'h-[2px]' : 'h-2.5'}`} style={{ background: colour }} aria-hidden="true" />
      {words}
    </span>
  );
}

function sayAt(at: string, unit: string, locale: string): string {
  const moment = new Date(at.includes('T') ? `${at}Z` : `${at}T00:00Z`);
  return unit === 'hour'
    ? moment.toLocaleTimeString(locale, { timeZone: 'UTC', hour: '2-digit', minute: '2-digit' })
    : moment.toLocaleDateString(locale, { timeZone: 'UTC', day: 'numeric', month: 'short' });
}
