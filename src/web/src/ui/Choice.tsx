import { Select } from 'radix-ui';
import { useState } from 'react';
import { LISTED, LISTED_ROW } from './listed';

/** `off`: it cannot be chosen here, and its words say why. */
type Option = { value: string; words: string; off?: boolean };
type Props = {
  label: string;
  value: string;
  options: Option[];
  onChange: (value: string) => void;
  className?: string;
  placeholder?: string;
};

/** One of a few words. Typing on it chooses by the first letters. */
export function Choice({ label, value, options, onChange, className = 'part', placeholder = 'choose' }: Props) {
  const words = options.find((option) => option.value === value)?.words.trim() ?? (value || placeholder);
  // A desk has dozens: what can be chosen is drawn where somebody is about to choose, not with every key that is typed elsewhere.
  const [isNear, setIsNear] = useState(false);
  const [isOpen, setIsOpen] = useState(false);
  return (
    <Select.Root value={value} onValueChange={onChange} open={isOpen} onOpenChange={setIsOpen}>
      <Select.Trigger
        aria-label={`${label}: ${words}`}
        className={`${className} inline-block`}
        onFocus={() => setIsNear(true)}
        onBlur={() => setIsNear(false)}
      >
        <Select.Value placeholder={placeholder}>{words}</Select.Value>
      </Select.Trigger>
      {(isNear || isOpen) && (
        <Select.Portal>
          <Select.Content position="popper" sideOffset={4} collisionPadding={8} className={`${LISTED} max-h-80`}>
            <Select.Viewport>
              {options.map((option) => (
                <Select.Item
                  key={option.value}
                  value={option.value}
                  disabled={option.off}
                  className={`${LISTED_ROW} data-[state=checked]:font-medium`}
                >
                  <Select.ItemText>{option.words}</Select.ItemText>
                </Select.Item>
              ))}
            </Select.Viewport>
          </Select.Content>
        </Select.Portal>
      )}
    </Select.Root>
  );
}
