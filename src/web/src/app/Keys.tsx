import { isTyping } from '../ui/keys';
import { Lifted } from '../ui/Lifted';
import { type KeyLine, type Place, usePlace } from './places';
import { useOpening } from './useOpening';

const EVERYWHERE: KeyLine[] = [
  ['/  or  Ctrl K', 'the command line'],
  ['?', 'these keys'],
  ['n', 'a new promotion'],
  ['g, then w or s', 'the places of a group; then the underlined letter'],
  ['\\', 'fold the right page away, and back'],
  ['Ctrl Z, Ctrl Shift Z', 'take back what was done last, wherever it was; do it again'],
  ['Esc', 'close what is open'],
];

const TAPE: KeyLine[] = [
  ['a', 'add an item to the cart'],
  ['c', 'enter a code'],
  ['+  −', 'in a quantity: one more, one fewer'],
];

/** The keys that do something at a place, under the words that name where they do. */
function keysAt(place: Place | undefined): [string, KeyLine[]][] {
  return [...(place?.keys ? [place.keys] : []), ...(place?.right ? [] : [['the tape', TAPE] as [string, KeyLine[]]])];
}

/** The keys of the page one is on, shown on ?. */
export function KeysOfThePage() {
  const place = usePlace();
  const [open, setOpen] = useOpening('keys-of-the-page', (event, show) => {
    if (event.key === '?' && !isTyping(event.target)) show();
  });
  const groups: [string, KeyLine[]][] = [...keysAt(place), ['everywhere', EVERYWHERE]];
  return (
    <Lifted title="Keys" open={open} onOpenChange={setOpen} place="top-24 w-[30rem] p-4">
      {groups.map(([where, keys]) => (
        <section key={where}>
          <h3 className="head-word pt-2">{where}</h3>
          <dl className="grid grid-cols-[12rem_1fr]">
            {keys.map(([key, what]) => (
              <div key={key} className="contents">
                <dt className="font-mono text-tape">{key}</dt>
                <dd>{what}</dd>
              </div>
            ))}
          </dl>
        </section>
      ))}
    </Lifted>
  );
}
