import { Dialog } from 'radix-ui';
import { isTyping } from '../promotions/PromotionList';
import { useOpening } from './useOpening';

const KEYS: [string, string][] = [
  ['/  or  Ctrl K', 'the command line'],
  ['?', 'these keys'],
  ['\\', 'fold the tape away, and back'],
  ['j  k', 'down and up the list'],
  ['Enter', 'open a promotion; in a clause, accept and go on'],
  ['space', 'select a promotion'],
  ['f', 'filter the list'],
  ['n', 'a new promotion'],
  ['a', 'add an item to the cart'],
  ['c', 'enter a code'],
  ['+  −  in a quantity', 'one more, one fewer'],
  ['Alt with arrows', 'move a condition, into and out of brackets'],
  ['Ctrl Z, Ctrl Shift Z', 'undo and redo'],
  ['Esc', 'close what is open'],
];

/** The keys, shown on ?. */
export function KeysOfThePage() {
  const [open, setOpen] = useOpening('keys-of-the-page', (event, show) => {
    if (event.key === '?' && !isTyping(event.target)) show();
  });
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/25" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-24 left-1/2 z-50 w-[30rem] -translate-x-1/2 border border-ink bg-paper p-4 shadow-lift"
        >
          <Dialog.Title className="mb-2 font-semibold">Keys</Dialog.Title>
          <dl className="grid grid-cols-[12rem_1fr]">
            {KEYS.map(([key, what]) => (
              <div key={key} className="contents">
                <dt className="font-mono text-tape">{key}</dt>
                <dd>{what}</dd>
              </div>
            ))}
          </dl>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
