import { useState } from 'react';
import type { TapePrint } from '../api/client';
import { useCart } from './cart';

/** The codes of the cart: type one, see at once what became of it and why. */
export function TapeCodes({ print }: { print: TapePrint }) {
  const { cart, change } = useCart();
  const [typed, setTyped] = useState('');
  const normal = (code: string) => code.normalize('NFKC').trim().toUpperCase();
  const remove = (code: string) => change({ codes: cart.codes.filter((entered) => normal(entered) !== code) });
  return (
    <div className="border-b border-rule px-3">
      {print.codes.map((code) => (
        <p key={code.code} className="flex gap-2 leading-[24px]" data-testid="code">
          <span className="shrink-0 font-medium">
            {code.status === 'applied' ? '✓' : '×'} {code.code}
          </span>
          <span className={`min-w-0 flex-1 ${code.status === 'applied' ? '' : 'text-doubt'}`}>{code.message}</span>
          <button
            type="button"
            className="not-printed word self-start"
            aria-label={`take out ${code.code}`}
            onClick={() => remove(code.code)}
          >
            take out
          </button>
        </p>
      ))}
      <form
        className="not-printed"
        onSubmit={(event) => {
          event.preventDefault();
          if (typed.trim() === '') return;
          change({ codes: [...cart.codes.filter((entered) => normal(entered) !== normal(typed)), typed.trim()] });
          setTyped('');
        }}
      >
        <input
          id="enter-code"
          aria-label="Enter a code"
          placeholder="+ enter a code"
          className="h-6 w-full bg-transparent"
          value={typed}
          autoComplete="off"
          onChange={(event) => setTyped(event.target.value)}
        />
      </form>
    </div>
  );
}
