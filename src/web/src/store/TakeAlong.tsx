import { useState } from 'react';

const PARTS = [
  { member: 'stock', words: 'what is left of each item' },
  { member: 'shoppers', words: 'its shoppers' },
  { member: 'codes', words: 'the codes of its batches' },
  { member: 'orders', words: 'its paid orders' },
] as const;

/** The whole shop as files in a zip: to keep, to compare, to open elsewhere. */
export function TakeAlong() {
  const [parts, setParts] = useState<string[]>([]);
  const query = parts.map((part) => `${part}=true`).join('&');
  return (
    <section aria-label="The shop as files">
      <h2 className="head-word px-4 pt-4">the shop as files</h2>
      <p className="px-4">Settings, goods, promotions, batches and carts, with:</p>
      <p className="flex flex-wrap gap-x-5 px-4 leading-[26px]">
        {PARTS.map(({ member, words }) => (
          <label key={member} className="flex items-center gap-2">
            <input
              type="checkbox"
              className="accent-[var(--stamp)]"
              checked={parts.includes(member)}
              onChange={() => setParts((old) => (old.includes(member) ? old.filter((one) => one !== member) : [...old, member]))}
            />
            {words}
          </label>
        ))}
      </p>
      <p className="px-4 leading-[26px]">
        <a className="word" href={`/api/archive${query && `?${query}`}`} download>
          save them as a zip
        </a>
        <span className="text-faded">
          {' '}
          It opens in an empty file, where its orders count as orders from before. To move a shop with all that was used up, use{' '}
          <code>rapid-ledger backup</code>.
        </span>
      </p>
    </section>
  );
}
