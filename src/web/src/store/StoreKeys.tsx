import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type MadeKey } from '../api/client';
import { useKeys } from '../api/queries';
import { useShopContext } from '../shop/shop';
import { Choice } from '../ui/Choice';
import { Typed } from '../ui/Typed';

const KINDS = [
  { value: 'server', words: 'your shop’s server' },
  { value: 'page', words: 'a web page, for prices and offers only' },
];

/** Keys of the store interface: made by a sentence, told once, withdrawn by a press. */
export function StoreKeys() {
  const queries = useQueryClient();
  const { format } = useShopContext();
  const { data: keys = [], error } = useKeys();
  const [kind, setKind] = useState('server');
  const [name, setName] = useState('');
  const [made, setMade] = useState<MadeKey | null>(null);
  const [said, setSaid] = useState('');
  const [failure, setFailure] = useState('');
  const [busy, setBusy] = useState(false);

  const run = async (work: () => Promise<void>) => {
    if (busy) return;
    setBusy(true);
    setFailure('');
    setSaid('');
    try {
      await work();
    } catch (error) {
      setFailure((error as Error).message);
    } finally {
      setBusy(false);
      queries.invalidateQueries({ queryKey: ['keys'] });
    }
  };
  const make = () =>
    run(async () => {
      setMade(await answered<MadeKey>(api.POST('/api/keys', { body: { kind, name } })));
      setName('');
    });
  const withdraw = (id: string) =>
    run(async () => {
      await answered(api.DELETE('/api/keys/{id}', { params: { path: { id } } }));
      if (made?.id === id) setMade(null);
      setSaid(`${id} is withdrawn: no call with it is answered any more.`);
    });

  return (
    <section aria-label="Keys">
      <h2 className="head-word px-4 pt-3">keys</h2>
      <form
        className="px-4 leading-[26px]"
        onSubmit={(event) => {
          event.preventDefault();
          make();
        }}
      >
        A key for{' '}
        <Typed
          label="What the key is for"
          placeholder="its name, such as web shop"
          wanting={failure !== '' && name.trim() === ''}
          value={name}
          onType={setName}
        />
        , used by <Choice label="By what" value={kind} options={KINDS} onChange={setKind} />{' '}
        <button type="submit" className="word ml-2" aria-disabled={busy}>
          make it
        </button>
      </form>
      <div role="status" className="px-4">
        {made && (
          <p className="border border-stamp bg-stamped px-2 py-1" data-testid="made-key">
            <span className="font-mono select-all">{made.key}</span>{' '}
            <button type="button" className="word" onClick={() => navigator.clipboard?.writeText(made.key)}>
              copy
            </button>
            <span className="block text-faded">
              This is {made.id}. Copy it now, it is not shown again: keep it where your shop keeps its secrets.{' '}
              <button type="button" className="word" onClick={() => setMade(null)}>
                done
              </button>
            </span>
          </p>
        )}
        {said && <p>{said}</p>}
        {(failure || error) && <p className="text-doubt">⚠ {failure || error?.message}</p>}
      </div>
      {keys.length === 0 && !error && <p className="px-4 text-faded">No keys yet: no shop can call.</p>}
      <ul>
        {keys.map((key) => (
          <li key={key.id} className="flex items-baseline gap-3 px-4 leading-6 odd:bg-band" data-testid="key">
            <span className="w-10 font-mono font-medium">{key.id}</span>
            <span className="w-14">{key.kind}</span>
            <span className="min-w-0 flex-1 truncate">{key.name}</span>
            <span className="text-faded">{format.day(key.madeAt)}</span>
            {key.withdrawnAt ? (
              <span className="w-40 text-right text-faded">withdrawn {format.day(key.withdrawnAt)}</span>
            ) : (
              <button type="button" className="word" aria-label={`withdraw ${key.id}`} onClick={() => withdraw(key.id)}>
                withdraw
              </button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
