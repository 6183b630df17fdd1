import type { InputHTMLAttributes, Ref } from 'react';

type Props = Omit<InputHTMLAttributes<HTMLInputElement>, 'onChange'> & {
  label: string;
  value: string;
  onType: (text: string) => void;
  ref?: Ref<HTMLInputElement>;
};

/** A line that is typed on to find something. */
export function Find({ label, onType, className = 'w-full', ...rest }: Props) {
  return (
    <input
      {...rest}
      aria-label={label}
      className={`border-b border-rule bg-transparent ${className}`}
      autoComplete="off"
      spellCheck={false}
      onChange={(event) => onType(event.target.value)}
    />
  );
}
