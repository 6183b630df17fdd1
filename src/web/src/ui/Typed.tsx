import { type InputHTMLAttributes, useEffect, useRef, useState } from 'react';

type Props = Omit<InputHTMLAttributes<HTMLInputElement>, 'value' | 'onChange'> & {
  label: string;
  value: string;
  onType: (text: string) => void;
  wanting?: boolean;
};

/**
 * A part of a sentence that is typed. It keeps what is typed as typed while it has the focus, whatever the document makes of it.
 * Enter accepts and goes on to the next part.
 */
export function Typed({ label, value, onType, wanting = false, className = 'part fitted', ...rest }: Props) {
  const [text, setText] = useState(value);
  const focused = useRef(false);
  useEffect(() => {
    if (!focused.current) setText(value);
  }, [value]);
  return (
    <input
      {...rest}
      aria-label={label}
      data-wanting={wanting}
      className={className}
      value={text}
      autoComplete="off"
      spellCheck={false}
      onFocus={(event) => {
        focused.current = true;
        event.target.select();
      }}
      onBlur={() => {
        focused.current = false;
        setText(value);
      }}
      onChange={(event) => {
        setText(event.target.value);
        onType(event.target.value);
      }}
      onKeyDown={(event) => {
        rest.onKeyDown?.(event);
        if (event.key === 'Enter' && !event.defaultPrevented) {
          event.preventDefault();
          focusNext(event.currentTarget);
        }
      }}
    />
  );
}

function focusNext(from: HTMLElement) {
  const all = [...document.querySelectorAll<HTMLElement>('input:not([type=hidden]), button, [tabindex="0"]')].filter(
    (element) => element.offsetParent !== null && !element.hasAttribute('disabled') && element.tabIndex >= 0,
  );
  all[all.indexOf(from) + 1]?.focus();
}
