import { DropdownMenu } from 'radix-ui';
import { LISTED, LISTED_ROW } from './listed';

type Props = {
  label: string;
  words: string;
  items: { words: string; note?: string; onSelect: () => void; off?: boolean }[];
  className?: string;
};

/** A word that opens a list of things to do. */
export function Menu({ label, words, items, className = 'word' }: Props) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger aria-label={`${label}: ${words}`} className={className}>
        {words}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="start" sideOffset={4} collisionPadding={8} className={`${LISTED} max-h-96 overflow-auto`}>
          {items.map((item) => (
            <DropdownMenu.Item key={item.words} disabled={item.off} onSelect={item.onSelect} className={LISTED_ROW}>
              {item.words}
              {item.note && <span className="text-faded"> · {item.note}</span>}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
