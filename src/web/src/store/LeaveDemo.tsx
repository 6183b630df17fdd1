import { useState } from 'react';
import { answered, api } from '../api/client';
import { AskTwice } from '../ui/AskTwice';

// So long the server may take to come back.
const PATIENCE = 60_000;

/** Out of the demo shop into one of one's own: the demo is put aside in its file, and the opening stands there. */
export function LeaveDemo() {
  const [said, setSaid] = useState('');
  const [failure, setFailure] = useState('');
  const leave = async () => {
    setFailure('');
    try {
      const { kept } = await answered<{ kept: string }>(api.POST('/api/opening/leave'));
      setSaid(`The demo shop is kept in ${kept}. Opening an empty shop…`);
      const end = Date.now() + PATIENCE;
      while (!(await isEmpty())) {
        if (Date.now() > end)
          throw new Error('The demo shop is still there: another server may serve its file. The server’s own words say why.');
        await new Promise((resolve) => setTimeout(resolve, 300));
      }
      // Nothing that was asked of the demo holds any more.
      window.location.assign('/');
    } catch (error) {
      setSaid('');
      setFailure((error as Error).message);
    }
  };
  return (
    <section aria-label="A shop of your own" className="border-b border-rule pb-2" data-testid="leave-demo">
      <h2 className="head-word px-4 pt-3">a shop of your own</h2>
      <p className="px-4">
        This is the demo shop. To begin with your own goods, leave it: it is kept in a file of its own beside this one. Keys and orders made
        here stay with it and no longer work.
      </p>
      <p className="px-4 leading-[26px]">
        <AskTwice words="leave the demo shop…" sure="leave it and begin my own" warning="Your shop begins empty." onSure={leave} />
      </p>
      <div role="status" className="px-4">
        {said && <p>{said}</p>}
        {failure && <p className="text-doubt">⚠ {failure}</p>}
      </div>
    </section>
  );
}

// Whether the server is back and holds no shop.
const isEmpty = async () =>
  fetch('/api/shop')
    .then(async (answer) => answer.ok && (await answer.json()).isThere === false)
    .catch(() => false);
