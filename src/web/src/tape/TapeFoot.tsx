import { useState } from 'react';
import { answered, api, type Json } from '../api/client';
import { useCart } from './cart';

/** What can be done with a print: copied as a case file, which prices the same anywhere, or printed on paper. */
export function TapeFoot({ draft }: { draft: Json | null }) {
  const { cart } = useCart();
  const [said, setSaid] = useState('');
  const copy = async () => {
    try {
      const file = await answered<Json>(api.POST('/api/tape/case', { body: { cart, draft } as never }));
      await navigator.clipboard.writeText(`${JSON.stringify(file, null, 1)}\n`);
      setSaid('copied: “rapid-ledger price” reads it');
    } catch (error) {
      setSaid((error as Error).message);
    }
  };
  return (
    <p className="not-printed flex gap-4 border-t border-rule px-3 py-1.5 font-sans text-body">
      <button type="button" className="word" onClick={copy}>
        copy as case file
      </button>
      <button type="button" className="word" onClick={() => window.print()}>
        print
      </button>
      <span role="status" className="text-faded">
        {said}
      </span>
    </p>
  );
}
