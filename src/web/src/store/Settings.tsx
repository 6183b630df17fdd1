import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api } from '../api/client';
import { useShopContext } from '../shop/shop';
import { announce } from '../ui/announce';
import { toNumber } from '../ui/numbers';
import { Typed } from '../ui/Typed';
import { useHistory } from '../ui/undo';

type Written = { name?: string; link?: string; marginFloor?: string };

/** The shop's settings as sentences: what is typed over holds from the next price on, and can be taken back. */
export function Settings() {
  const queries = useQueryClient();
  const history = useHistory();
  const { info } = useShopContext();
  const [typed, setTyped] = useState<Written>({});
  const [failure, setFailure] = useState('');
  const floor = info.marginFloor == null ? '' : String(info.marginFloor);
  const stands = { name: info.name, link: info.link ?? '', marginFloor: floor };
  const keep = async (member: keyof Written) => {
    const text = typed[member]?.trim();
    if (text === undefined || text === stands[member]) return setTyped((old) => ({ ...old, [member]: undefined }));
    try {
      const number = member === 'marginFloor' && text !== '' ? toNumber(text) : text;
      const body = { name: null, link: null, marginFloor: null, [member]: String(number) };
      const write = async () => {
        const { step } = await answered<{ step: number | null }>(api.POST('/api/settings', { body }));
        await queries.invalidateQueries();
        return step;
      };
      let step = await write();
      const words = WORDS[member];
      announce(`${words} is changed.`);
      if (step !== null)
        history.push({
          words,
          of: 'list',
          undo: async () => {
            await answered(api.POST('/api/goods/steps/{number}/back', { params: { path: { number: step ?? 0 } } }));
            await queries.invalidateQueries();
          },
          redo: async () => {
            step = await write();
          },
        });
      setFailure('');
      setTyped((old) => ({ ...old, [member]: undefined }));
    } catch (error) {
      setFailure((error as Error).message);
    }
  };
  const part = (member: keyof Written, label: string, placeholder: string, isProse = false) => (
    <Typed
      label={label}
      placeholder={placeholder}
      prose={isProse}
      value={typed[member] ?? stands[member]}
      wanting={failure !== '' && typed[member] !== undefined}
      onType={(text) => setTyped((old) => ({ ...old, [member]: text }))}
      onBlur={() => keep(member)}
    />
  );
  return (
    <section aria-label="Settings">
      <h2 className="head-word px-4 pt-3">settings</h2>
      <p className="px-4 leading-[26px]">
        The shop is called {part('name', 'The shop’s name', 'its name', true)}. It sells in{' '}
        {info.currencies.map((one) => one.code).join(', ')}; its days begin in {info.timeZone.replaceAll('_', ' ')}.
      </p>
      <p className="px-4 leading-[26px]">
        Margins below {part('marginFloor', 'The margin floor in percent', 'no floor')}
        {floor === '' ? '' : ' %'} are pointed out.
      </p>
      <p className="px-4 leading-[26px]">
        A code’s link is {part('link', 'The form of links that carry a code', 'the counter’s own on this machine', true)}
        {info.link == null && (
          <span className="text-faded">: write your shop’s address, such as https://shop.example/?code={'{code}'}</span>
        )}
        .
      </p>
      {failure && (
        <p role="alert" className="px-4 text-doubt">
          ⚠ {failure}
        </p>
      )}
      {info.isDemo && (
        <p className="px-4 text-faded">This is the demo shop. Your own begins in a file of its own: rapid-ledger serve --data my-shop.db</p>
      )}
    </section>
  );
}

const WORDS: Record<keyof Written, string> = { name: 'the shop’s name', link: 'the form of links', marginFloor: 'the margin floor' };
