import { useState } from 'react';
import { useLocation } from 'wouter';
import type { Json, SampleCart } from '../api/client';
import { useCodes, useFoundPromotions, useItems, useShoppers } from '../api/queries';
import { EMPTY_RULE, INTENTS } from '../desk/intents';
import { useBegin } from '../desk/useBegin';
import { useShopContext } from '../shop/shop';
import { useCart } from '../tape/cart';
import { actionsOffered } from '../ui/actions';
import { Finder } from '../ui/Finder';
import { capital } from '../ui/format';
import { isTyping } from '../ui/keys';
import { Lifted } from '../ui/Lifted';
import { readWhen, sayWhen } from '../ui/when';
import { usePageColour } from './page';
import { PLACES } from './places';
import { useOpening } from './useOpening';

const MOST = 18;
const SOME = 4;
const LEAST = 2;
// Of what the page offers, before anything is typed.
const FIRST = 5;

/** How far a name is from what was typed: 0 begins with it; 1 each word begins one of its words, in order; 2 not so. */
export function farFrom(name: string, typed: string): number {
  const [text, wanted] = [name.toLowerCase(), typed.trim().toLowerCase()];
  if (text.startsWith(wanted)) return 0;
  const parts = text.split(/[^\p{L}\p{N}]+/u);
  let at = 0;
  for (const word of wanted.split(/\s+/)) {
    const next = parts.findIndex((part, place) => place >= at && part.startsWith(word));
    if (next < 0) return 2;
    at = next + 1;
  }
  return 1;
}

type Command = { words: string; detail: string; run: () => void };

/** The command line: go to a promotion or a code, put something in the cart, let somebody buy, begin something. Opens on / or Ctrl K. */
export function CommandLine() {
  const [, go] = useLocation();
  const [open, setOpen] = useOpening('command-line', (event, show) => {
    const isForUs = !isTyping(event.target) && !event.ctrlKey && !event.metaKey && !event.altKey;
    const field = event.key === 'a' ? 'add-item' : event.key === 'c' ? 'enter-code' : null;
    if (event.key.toLowerCase() === 'k' && (event.ctrlKey || event.metaKey)) show();
    else if (!isForUs) return;
    else if (event.key === '/') show();
    else if (event.key === 'n') go('/promotions/new');
    else if (field) document.getElementById(field)?.focus();
    else return;
    event.preventDefault();
  });

  return (
    <Lifted title="Command line" untitled open={open} onOpenChange={setOpen} place="top-10 w-[40rem]">
      <Commands close={() => setOpen(false)} />
    </Lifted>
  );
}

function Commands({ close }: { close: () => void }) {
  const { info, format } = useShopContext();
  const begin = useBegin();
  // What the page offers as it is when the line is opened.
  const [offered] = useState(actionsOffered);
  const { open: openCart, clear, change, addItems, letBuy } = useCart();
  const [, turn] = usePageColour();
  const [, go] = useLocation();
  const [typed, setTyped] = useState('');
  const wanted = typed.trim();
  const { data } = useFoundPromotions(wanted, MOST);
  // Codes, goods and shoppers are looked for once there is something to look for.
  const enough = wanted.length >= LEAST;
  const { data: codes } = useCodes(wanted, undefined, enough && !wanted.includes(' '));
  const { data: items = [] } = useItems(wanted, undefined, enough);
  const { data: shoppers = [] } = useShoppers(wanted, enough);
  const now = format.toLocal(info.demoClock ? info.now : Date.now());
  const moment = readWhen(wanted.replace(/^clock:?\s*/i, ''), { now, locale: info.locale, edge: 'start' });
  const own: Command[] = [
    ...('local' in moment && enough
      ? [
          {
            words: `Clock: ${sayWhen(moment.local, info.locale, 'start')}`,
            detail: wanted,
            run: () => change({ at: format.fromLocal(moment.local) }),
          },
        ]
      : []),
    ...PLACES.flatMap(({ command, path }) => (command ? [{ ...command, run: () => go(path) }] : [])),
    ...(wanted ? offered : offered.slice(0, FIRST)).map(({ words, detail = 'here', run }) => ({ words: capital(words), detail, run })),
    { words: 'Day or night', detail: 'turn the paper', run: turn },
    { words: 'Clock: now', detail: 'the tape follows the hour', run: () => change({ at: undefined }) },
    { words: 'Empty the cart', detail: 'the tape', run: clear },
    ...(info.samples as SampleCart[]).map((sample) => ({
      words: `Cart: ${sample.name}`,
      detail: 'put it on the tape',
      run: () => openCart(sample),
    })),
    ...(wanted ? [...INTENTS, { words: 'An empty rule', begin: EMPTY_RULE }] : []).map((intent) => ({
      words: intent.words,
      detail: 'begin a promotion',
      run: () => begin(intent.begin() as Json).catch(() => go('/promotions/new')),
    })),
  ];
  const rows = (data?.rows ?? []).map((row) => ({
    words: row.name,
    detail: row.codes.length > 0 ? `${row.codes.slice(0, 2).join(', ')}, ${row.phaseText}` : row.phaseText,
    run: () => go(`/promotions/${row.id}`),
  }));
  const others: Command[] = enough
    ? [
        ...[...(codes?.own ?? []), ...(codes?.ofBatches ?? [])].slice(0, SOME).map((code) => ({
          words: code.code,
          detail: 'the story of this code',
          run: () => go(`/codes?code=${encodeURIComponent(code.code)}`),
        })),
        ...items.slice(0, SOME).map((item) => ({
          words: item.name,
          detail: `${item.sku}, into the cart`,
          run: () => addItems([{ sku: item.sku, quantity: 1 }]),
        })),
        ...shoppers.slice(0, SOME).map((shopper) => ({
          words: shopper.name,
          detail: `${shopper.groups.join(', ') || 'a shopper'}: let them buy`,
          run: () => letBuy(shopper),
        })),
        ...info.places.map((place) => ({
          words: `Send it to ${place.name}`,
          detail: 'the tape',
          run: () => change({ destination: place.code }),
        })),
      ].filter((command) => farFrom(command.words, wanted) < 2 || command.detail.toLowerCase().includes(wanted.toLowerCase()))
    : [];
  const words = typed.toLowerCase().split(' ').filter(Boolean);
  // What begins with the words as typed is what was meant, before what only holds them somewhere.
  const found = [
    ...own.filter((command) => words.every((word) => `${command.words} ${command.detail}`.toLowerCase().includes(word))),
    ...rows,
    ...others,
  ]
    .map((command, place) => ({ command, place, far: farFrom(command.words, typed) }))
    .sort((left, right) => left.far - right.far || left.place - right.place)
    .slice(0, MOST)
    .map((one) => one.command);
  return (
    <Finder
      autoFocus
      className="w-full px-3 py-2 text-[15px]"
      listClass="pt-1"
      placeholder="a promotion, a code, an item, a shopper, a cart, something to begin"
      label="Command"
      value={typed}
      onType={setTyped}
      found={found}
      keyOf={(command) => `${command.words} ${command.detail}`}
      onTake={(command) => {
        close();
        command.run();
      }}
      none="Nothing of that name."
      row={(command) => (
        <>
          <span className="flex-1 px-2 py-0.5">{command.words}</span> <span className="px-2 text-faded">{command.detail}</span>
        </>
      )}
    />
  );
}
