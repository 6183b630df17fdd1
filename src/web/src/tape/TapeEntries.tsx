import { useEffect, useRef } from 'react';
import { Link } from 'wouter';
import type { LiveBeside, PrintedEntry, TapePrint } from '../api/client';
import { useShopContext } from '../shop/shop';
import { add, isZero, subtract } from '../ui/format';
import { useCart } from './cart';
import { Across, Table } from './Table';

type Props = {
  print: TapePrint;
  live: LiveBeside | null;
  lit: string | null;
  onLight: (promotion: string | null) => void;
  draftId?: string;
};

/** The entries in order of the passes, each with its amount and the running total. */
export function TapeEntries({ print, live, lit, onLight, draftId }: Props) {
  const { format, info } = useShopContext();
  const { cart } = useCart();
  const { totals, currency } = print;
  const money = (amount: string) => format.plain(amount, currency);
  const from = (...where: string[]) => print.entries.filter((entry) => where.includes(entry.from));
  const method = info.methods.find((one) => one.id === cart.method)?.name;
  // The running total: each entry says what it leaves.
  let running = totals.goods;
  const after = (change: string) => {
    running = add(running, change);
    return money(running);
  };
  const row = (entry: PrintedEntry, left: string) => (
    <EntryRow
      key={`${entry.promotion} ${entry.from} ${entry.label}`}
      entry={entry}
      running={left}
      currency={currency}
      lit={lit === entry.promotion}
      onLight={onLight}
      isDraft={entry.promotion === draftId}
      beside={live !== null}
    />
  );
  return (
    <Table
      name="Entries"
      columns={['', 'entry', 'running']}
      head={
        <div role="row" className="head-word grid grid-cols-[1fr_5.4rem_5.4rem] gap-x-1 px-3 pt-1">
          <span role="columnheader">
            <span className="sr-only">what</span>
          </span>
          <span role="columnheader" className="text-right">
            entry
          </span>
          <span role="columnheader" className="text-right">
            running
          </span>
        </div>
      }
    >
      <Row name="Goods" amount={money(totals.goods)} running={money(totals.goods)} testid="goods" />
      {from('markdown').map((entry) => row(entry, 'in the goods'))}
      {from('goods').map((entry) => row(entry, after(`-${entry.amount}`)))}
      {from('gift').map((entry) => row(entry, isZero(entry.net ?? '0') ? 'free' : after(entry.net ?? '0')))}
      {from('order').map((entry) => row(entry, after(`-${entry.amount}`)))}
      {print.offers.map((offer) => (
        <Offer key={offer.promotion} offer={offer} />
      ))}
      {live?.gone.map((entry) => (
        <Row
          key={`${entry.promotion} ${entry.from} ${entry.label}`}
          name={`${entry.label} — only in the live edition`}
          amount={`(−${money(entry.amount)})`}
          running=""
          faint
        />
      ))}
      <Row
        name={
          totals.shippingUnavailable
            ? `Delivery: ${method ?? 'this way'} is not to be had there`
            : `Delivery${method ? `, ${method}` : ', not chosen'}`
        }
        amount={money(totals.shipping)}
        running={after(totals.shipping)}
        doubt={totals.shippingUnavailable}
        testid="delivery"
      />
      {from('delivery').map((entry) => row(entry, after(`-${entry.amount}`)))}
      {print.taxes.map((tax) => (
        <Row
          key={tax.class}
          name={`${totals.taxIncluded ? 'of which tax' : 'Tax'} ${format.number(tax.percent)} %, ${tax.class}`}
          amount={money(tax.tax)}
          running=""
          faint={totals.taxIncluded}
        />
      ))}
      {from('credit').map((entry) => row(entry, ''))}
      {totals.points > 0 && <Row name="Points awarded" amount={format.number(totals.points)} running="" testid="points" />}
    </Table>
  );
}

/** What is due and what is earned: in sight however long the cart is. */
export function TapeSum({ print, live }: { print: TapePrint; live: LiveBeside | null }) {
  const { format } = useShopContext();
  const { totals, currency } = print;
  return (
    <div className="sticky bottom-0 z-[5] bg-paper">
      <div className="grid grid-cols-[1fr_8rem] items-baseline gap-x-1 border-t-[3px] border-double border-ink bg-band px-3 py-1 text-[15px]">
        <span className="font-medium">Due</span>
        <Amount className="text-right font-medium" testid="due" words={format.money(totals.due, currency)} />
      </div>
      {print.gap != null && (
        <p className="px-3 text-doubt" data-testid="unproved">
          Another choice could be better, by at most {format.money(print.gap, currency)}
        </p>
      )}
      {live && <Beside live={live} due={totals.due} margin={totals.margin} currency={currency} />}
      <Margin print={print} />
    </div>
  );
}

type RowProps = { name: string; amount: string; running: string; faint?: boolean; doubt?: boolean; testid?: string };

function Row({ name, amount, running, faint, doubt, testid }: RowProps) {
  return (
    <div
      role="row"
      className={`grid grid-cols-[1fr_5.4rem_5.4rem] gap-x-1 px-3 odd:bg-band ${faint ? 'text-faded' : ''} ${doubt ? 'text-doubt' : ''}`}
    >
      <span role="cell" className="min-w-0 break-words" title={name}>
        {name}
      </span>
      <Amount isCell className="text-right" words={amount} testid={testid} />
      <span role="cell" className="text-right text-faded">
        {running}
      </span>
    </div>
  );
}

type EntryProps = {
  entry: PrintedEntry;
  running: string;
  currency: string;
  lit: boolean;
  isDraft: boolean;
  beside: boolean;
  onLight: (promotion: string | null) => void;
};

function EntryRow({ entry, running, currency, lit, isDraft, beside, onLight }: EntryProps) {
  const { format } = useShopContext();
  const { cart, change } = useCart();
  const changed = beside && entry.before !== entry.amount;
  const unpickAll = (promotion: string) => change({ picks: { ...cart.picks, [promotion]: [] } });
  return (
    <div role="rowgroup" className="odd:bg-band" data-testid="entry" data-promotion={entry.promotion}>
      <div role="row" className="relative grid grid-cols-[1fr_5.4rem_5.4rem] gap-x-1 px-3 text-red leading-[24px] hover:bg-press">
        <span role="cell" className="min-w-0">
          {/* The whole row can be pressed. */}
          <button
            type="button"
            aria-expanded={lit}
            title={`${entry.name}: press to see what it touched`}
            className="max-w-full break-words text-left after:absolute after:inset-0"
            onClick={() => onLight(lit ? null : entry.promotion)}
          >
            {isDraft && <span className="mr-1 text-stamp">✎</span>}
            {entry.label}
          </button>
        </span>
        <Amount isCell className="text-right" words={`−${format.plain(entry.amount, currency)}`} testid="entry-amount" />
        <span role="cell" className="text-right text-faded">
          {running}
        </span>
      </div>
      {(lit || changed) && (
        <Across>
          <p className="px-3 pl-6 text-faded">
            {lit && (
              <>
                {entry.name}
                {entry.units > 0 && `, on ${entry.units} ${entry.units === 1 ? 'unit' : 'units'}`} ·{' '}
                <Link className="word" href={`/promotions/${entry.promotion}`}>
                  open it
                </Link>{' '}
                {entry.from === 'gift' && (
                  <button type="button" className="word" onClick={() => unpickAll(entry.promotion)}>
                    put picks back
                  </button>
                )}
              </>
            )}
            {changed &&
              (entry.before === null ? 'not in the live edition' : `−${format.plain(entry.before, currency)} in the live edition`)}
          </p>
        </Across>
      )}
    </div>
  );
}

/** Gifts that wait to be picked: a press picks one. */
function Offer({ offer }: { offer: TapePrint['offers'][number] }) {
  const { pick } = useCart();
  return (
    <div role="row" className="not-printed px-3 odd:bg-band" data-testid="offer">
      <span role="cell">
        <span className="text-stamp">to pick, {offer.units}:</span>{' '}
        {offer.items.map((item) => (
          <button key={item.sku} type="button" className="word mr-3" onClick={() => pick(offer.promotion, item.sku)}>
            {item.name}
          </button>
        ))}
      </span>
    </div>
  );
}

/** An amount that blinks once when it changes. */
function Amount({ words, className, testid, isCell }: { words: string; className: string; testid?: string; isCell?: boolean }) {
  const element = useRef<HTMLSpanElement>(null);
  const before = useRef(words);
  useEffect(() => {
    if (before.current === words || !element.current) return;
    before.current = words;
    element.current.classList.remove('changed');
    void element.current.offsetWidth;
    element.current.classList.add('changed');
  }, [words]);
  return (
    <span ref={element} role={isCell ? 'cell' : undefined} className={className} data-testid={testid}>
      {words}
    </span>
  );
}

function Beside({ live, due, margin, currency }: { live: LiveBeside; due: string; margin: string | null; currency: string }) {
  const { format } = useShopContext();
  const difference = subtract(due, live.due);
  const earned = margin !== null && live.margin !== null ? subtract(margin, live.margin) : null;
  const signed = (amount: string) => `${amount.startsWith('-') ? '−' : '+'}${format.plain(amount.replace('-', ''), currency)}`;
  return (
    <p className="flex justify-between gap-2 px-3 py-0.5 text-faded" data-testid="beside">
      <span>under the live edition {format.money(live.due, currency)}</span>
      <span>
        {isZero(difference) ? 'no difference' : `here ${signed(difference)}`}
        {earned !== null && !isZero(earned) && `, margin ${signed(earned)}`}
      </span>
    </p>
  );
}

function Margin({ print }: { print: TapePrint }) {
  const { format, info } = useShopContext();
  const { cart } = useCart();
  const { marginPercent, totals, currency } = print;
  const floor = info.marginFloor;
  const below = marginPercent !== null && floor !== null && marginPercent < floor;
  const width = (percent: number) => `${Math.max(0, Math.min(100, percent))}%`;
  return (
    <div className="border-t border-rule px-3 py-1" data-testid="margin">
      <p className="flex justify-between">
        <span>Margin{below ? ', below the floor' : ''}</span>
        <span className={below || totals.margin?.startsWith('-') ? 'text-red' : ''}>
          {totals.margin === null
            ? 'unknown: a cost is missing'
            : `${format.money(totals.margin, currency)}${marginPercent === null ? '' : ` · ${format.number(marginPercent)} %`}`}
        </span>
      </p>
      {info.taxed === 'inclusive' && print.lines.length > 0 && print.taxes.length === 0 && (
        <p className="text-doubt">
          ⚠ No tax is taken off: {cart.destination ? 'there is no rate for its goods there' : 'the cart has no destination'}. Its tax counts
          as margin.
        </p>
      )}
      {marginPercent !== null && (
        <div className="relative my-1 h-1.5 border border-rule" aria-hidden="true">
          <div className={`h-full ${below ? 'bg-red' : 'bg-ink'}`} style={{ width: width(marginPercent) }} />
          {floor !== null && <div className="absolute -top-1 -bottom-1 w-0.5 bg-stamp" style={{ left: width(floor) }} />}
        </div>
      )}
      <p className="flex justify-between text-faded">
        <span>{floor === null ? '' : `floor ${format.number(floor)} %`}</span>
        <span>{totals.contribution === null ? '' : `after delivery ${format.money(totals.contribution, currency)}`}</span>
      </p>
    </div>
  );
}
