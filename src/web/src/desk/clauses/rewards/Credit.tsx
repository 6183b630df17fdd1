import { useShopContext } from '../../../shop/shop';
import { Choice } from '../../../ui/Choice';
import { Money } from '../Money';
import { type RewardProps, wanting } from './parts';

/** Credit that pays a part of the order. */
export function Credit({ draft, reward, path }: RewardProps) {
  const { info } = useShopContext();
  return (
    <>
      <Money
        draft={draft}
        label="Credit"
        placeholder="amount"
        value={reward.amount}
        path={[...path, 'amount']}
        wanting={wanting(draft, path, 'amount')}
      />{' '}
      {info.currency} of credit; what is left of it{' '}
      <Choice
        label="What is left"
        value={reward.keepRest === false ? 'lost' : 'stays'}
        options={[
          { value: 'stays', words: 'stays for the next order' },
          { value: 'lost', words: 'is lost' },
        ]}
        onChange={(next) => draft.change([...path, 'keepRest'], next === 'stays')}
      />
    </>
  );
}
