import { useState } from 'react';
import { Ticks } from '../ui/Ticks';
import { Typed } from '../ui/Typed';
import { useWriteShoppers } from './writing';

/** A shopper in one sentence. */
export function NewShopper({ groups, onMade }: { groups: string[]; onMade: (id: string) => void }) {
  const write = useWriteShoppers();
  const [id, setId] = useState('');
  const [name, setName] = useState('');
  const [inGroups, setInGroups] = useState<string[]>([]);
  const [failure, setFailure] = useState('');
  const make = async () => {
    if (id.trim() === '') return setFailure('Say the number or address by which your shop knows them.');
    try {
      await write([{ id: id.trim(), name: name.trim() || id.trim(), groups: inGroups }], `${name.trim() || id.trim()} is a shopper`);
      onMade(id.trim());
      setId('');
      setName('');
      setInGroups([]);
      setFailure('');
    } catch (error) {
      setFailure((error as Error).message);
    }
  };
  return (
    <form
      aria-label="A new shopper"
      className="border-b border-rule px-4 py-1 leading-[26px]"
      onSubmit={(event) => {
        event.preventDefault();
        make();
      }}
    >
      A shopper named <Typed label="Name of the new shopper" placeholder="their name" prose value={name} onType={setName} />, known as{' '}
      <Typed label="Number of the new shopper" placeholder="their number" value={id} onType={setId} wanting={failure !== '' && id === ''} />{' '}
      in{' '}
      <Ticks
        label="Groups of the new shopper"
        values={inGroups}
        options={groups.map((value) => ({ value, words: value }))}
        empty="no group"
        orNone
        joint="and"
        free
        onChange={setInGroups}
      />{' '}
      <button type="submit" className="word ml-2">
        put them in
      </button>
      {failure && (
        <span role="alert" className="ml-2 text-doubt">
          ⚠ {failure}
        </span>
      )}
    </form>
  );
}
