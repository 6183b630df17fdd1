import { useState } from 'react';
import { useLocation } from 'wouter';
import type { SampleCart } from '../api/client';
import { usePromotions } from '../api/queries';
import { isTyping } from '../ui/keys';
import { useCart } from '../tape/cart';
import { Lifted } from '../ui/Lifted';
import { useWalk } from '../ui/useWalk';
import { usePageColour } from './page';
import { useShopContext } from '../shop/shop';
import { useOpening } from './useOpening';

type Command = { words: string; detail: string; run: () => void };

/** The command line: go to a promotion, open a cart, begin something. Opens on / or Ctrl K. */
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
  const { info } = useShopContext();
  const { open: openCart, clear, change } = useCart();
  const { data } = usePromotions(undefined, {});
  const [, turn] = usePageColour();
  const [, go] = useLocation();
  const [typed, setTyped] = useState('');
  const commands: Command[] = [
    { words: 'New promotion', detail: 'begin from what you want', run: () => go('/promotions/new') },
    { words: 'All promotions', detail: 'the list', run: () => go('/promotions') },
    { words: 'Day or night', detail: 'turn the paper', run: turn },
    { words: 'Clock: now', detail: 'the tape follows the hour', run: () => change({ at: undefined }) },
    { words: 'Empty the cart', detail: 'the tape', run: clear },
    ...(info.samples as SampleCart[]).map((sample) => ({
      words: `Cart: ${sample.name}`,
      detail: 'put it on the tape',
      run: () => openCart(sample),
    })),
    ...(data?.rows ?? []).map((row) => ({ words: row.name, detail: row.phaseText, run: () => go(`/promotions/${row.id}`) })),
  ];
  const words = typed.toLowerCase().split(' ').filter(Boolean);
  const found = commands
    .filter((command) => words.every((word) => `${command.words} ${command.detail}`.toLowerCase().includes(word)))
    .slice(0, 14);
  const { at, setAt, walk } = useWalk(found.length);
  const run = (command: Command | undefined) => {
    if (!command) return;
    close();
    command.run();
  };
  return (
    <div>
      <input
        className="w-full border-b border-ink bg-transparent px-3 py-2 text-[15px]"
        placeholder="go to a promotion, open a cart, begin something"
        aria-label="Command"
        autoFocus
        value={typed}
        onChange={(event) => {
          setTyped(event.target.value);
          setAt(0);
        }}
        onKeyDown={(event) => {
          if (walk(event) || event.key !== 'Enter') return;
          event.preventDefault();
          run(found[at]);
        }}
      />
      <ul className="pt-1">
        {found.map((command, place) => (
          <li
            key={`${command.words} ${command.detail}`}
            className={place === at ? 'bg-press' : place % 2 ? '' : 'bg-band'}
            onMouseEnter={() => setAt(place)}
          >
            <button type="button" className="flex w-full justify-between px-3 py-0.5 text-left" onClick={() => run(command)}>
              {command.words} <span className="text-faded">{command.detail}</span>
            </button>
          </li>
        ))}
        {found.length === 0 && <li className="px-3 py-1 text-faded">Nothing of that name.</li>}
      </ul>
    </div>
  );
}
