import { isTyping } from '../ui/keys';
import { Lifted } from '../ui/Lifted';
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
  ['Ctrl Enter', 'put the promotion at the desk live'],
  ['Alt M', 'at a number of the desk: the most it can give'],
  ['a', 'add an item to the cart'],
  ['c', 'enter a code'],
  ['+  −  in a quantity', 'one more, one fewer'],
  ['Alt with arrows', 'move a condition, into and out of brackets'],
  ['Ctrl Z, Ctrl Shift Z', 'take back what was done last, wherever it was; do it again'],
  ['Esc', 'close what is open'],
];

/** The keys, shown on ?. */
export function KeysOfThePage() {
  const [open, setOpen] = useOpening('keys-of-the-page', (event, show) => {
    if (event.key === '?' && !isTyping(event.target)) show();
  });
  return (
    <Lifted title="Keys" open={open} onOpenChange={setOpen} place="top-24 w-[30rem] p-4">
      <dl className="grid grid-cols-[12rem_1fr]">
        {KEYS.map(([key, what]) => (
          <div key={key} className="contents">
            <dt className="font-mono text-tape">{key}</dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
    </Lifted>
  );
}
