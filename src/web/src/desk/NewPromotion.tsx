import { useEffect, useRef, useState } from 'react';
import { Link } from 'wouter';
import type { Json } from '../api/client';
import { EMPTY_RULE, INTENTS } from './intents';
import { useBegin } from './useBegin';

/** A new promotion begins from what is wanted, from an empty rule, or from a file. */
export function NewPromotion() {
  // The first intent has the keys.
  const first = useRef<HTMLUListElement>(null);
  useEffect(() => first.current?.querySelector('button')?.focus(), []);
  const beginWith = useBegin();
  const [failure, setFailure] = useState<string | null>(null);
  const [pasted, setPasted] = useState('');

  const begin = async (document: Json) => {
    try {
      await beginWith(document);
    } catch (error) {
      setFailure((error as Error).message);
    }
  };

  const open = (text: string) => {
    try {
      const file = JSON.parse(text) as Json;
      // A promotion by itself, or the first of a case.
      const promotion = Array.isArray(file.promotions) ? (file.promotions[0] as Json) : file;
      if (!promotion || typeof promotion !== 'object' || Array.isArray(promotion)) throw new Error('It holds no promotion.');
      const { id: _, state: __, ...rest } = promotion;
      begin(rest);
    } catch (error) {
      setFailure(`This is not a promotion as a file: ${(error as Error).message}`);
    }
  };

  return (
    <section aria-label="New promotion" className="h-full overflow-y-auto">
      <header className="flex items-baseline justify-between border-b border-rule px-4 py-2">
        <h1 className="text-[17px] font-medium">What do you want?</h1>
        <Link href="/promotions" className="word">
          back to the list
        </Link>
      </header>
      <ul ref={first}>
        {INTENTS.map((intent) => (
          <li key={intent.key} className="border-b border-rule odd:bg-band">
            <button
              type="button"
              className="grid w-full grid-cols-[13rem_1fr] gap-3 px-4 py-2 text-left hover:bg-press"
              onClick={() => begin(intent.begin())}
            >
              <span className="font-medium">{intent.words}</span>
              <span className="text-faded">{intent.beware}</span>
            </button>
          </li>
        ))}
        <li className="border-b border-rule odd:bg-band">
          <button
            type="button"
            className="grid w-full grid-cols-[13rem_1fr] gap-3 px-4 py-2 text-left hover:bg-press"
            onClick={() => begin(EMPTY_RULE())}
          >
            <span className="font-medium">An empty rule</span>
            <span className="text-faded">Every clause open; say what it gives and on what.</span>
          </button>
        </li>
      </ul>
      <form
        className="px-4 py-3"
        onSubmit={(event) => {
          event.preventDefault();
          open(pasted);
        }}
      >
        <label>
          Or paste a promotion or a case as JSON
          <textarea
            className="mt-1 block h-24 w-full border border-rule bg-transparent p-2 font-mono text-tape"
            spellCheck={false}
            value={pasted}
            onChange={(event) => setPasted(event.target.value)}
          />
        </label>
        <p className="mt-1 flex items-baseline gap-4">
          <button type="submit" className="word" disabled={pasted.trim() === ''}>
            begin with it
          </button>
          <label className="word">
            open a file
            <input
              type="file"
              accept=".json,application/json"
              className="sr-only"
              onChange={async (event) => {
                const file = event.target.files?.[0];
                if (file) open(await file.text());
              }}
            />
          </label>
        </p>
        {failure && (
          <p role="alert" className="mt-2 text-doubt">
            ⚠ {failure}
          </p>
        )}
      </form>
    </section>
  );
}
