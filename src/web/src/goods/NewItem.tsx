import { useState } from 'react';
import { useShopContext } from '../shop/shop';
import { toAmount } from '../ui/numbers';
import { Typed } from '../ui/Typed';
import { press } from './pressed';
import { useWriteGoods } from './writing';

/** A new item, in a line. */
export function NewItem({ onDone }: { onDone: () => void }) {
  const { info } = useShopContext();
  const write = useWriteGoods();
  const [sku, setSku] = useState('');
  const [name, setName] = useState('');
  const [regular, setRegular] = useState('');
  const [failure, setFailure] = useState('');
  const add = async () => {
    try {
      await write(
        [{ sku: sku.trim(), name: name.trim() || sku.trim(), regular: toAmount(regular) ?? '' }],
        `new: ${name.trim() || sku.trim()}`,
      );
      press(sku.trim());
      setSku('');
      setName('');
      setRegular('');
      setFailure('');
    } catch (error) {
      setFailure((error as Error).message);
    }
  };
  return (
    <form
      aria-label="A new item"
      className="border-b border-rule px-4 leading-[28px]"
      onSubmit={(event) => {
        event.preventDefault();
        add();
      }}
    >
      <Typed label="SKU of the new item" placeholder="its SKU" value={sku} onType={setSku} wanting={failure !== '' && sku.trim() === ''} />,{' '}
      <Typed label="Name of the new item" placeholder="its name" value={name} onType={setName} prose />, at{' '}
      <Typed
        label={`Regular price of the new item in ${info.currency}`}
        placeholder="price"
        inputMode="decimal"
        value={regular}
        onType={setRegular}
        wanting={failure !== '' && regular.trim() === ''}
      />{' '}
      {info.currency}{' '}
      <button type="submit" className="word">
        put it in
      </button>{' '}
      <button type="button" className="word" onClick={onDone}>
        done
      </button>
      {failure && (
        <p role="alert" className="text-doubt">
          ⚠ {failure}
        </p>
      )}
    </form>
  );
}
