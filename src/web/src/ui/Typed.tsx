import { type InputHTMLAttributes, useEffect, useRef, useState } from 'react';
import { useHistoryEnds } from './undo';

type Props = Omit<InputHTMLAttributes<HTMLInputElement>, 'value' | 'onChange'> & {
  label: string;
  value: string;
  onType: (text: string) => void;
  wanting?: boolean;
  /** A text of some length: going into it marks none of it. */
  prose?: boolean;
};

/**
 * A part of a sentence that is typed. It keeps what is typed as typed while it has the focus, whatever the document makes of it.
 * Enter accepts and goes on to the next part; Escape puts back what stood there.
 */
export function Typed({ label, value, onType, wanting = false, prose = false, className = 'part fitted', ...rest }: Props) {
  const [text, setText] = useState(value);
  const focused = useRef(false);
  const stood = useRef(value);
  // What came of typing keeps the form in which it was typed; what somebody else put there is shown.
  const typing = useRef(false);
  useEffect(() => {
    if (!focused.current || !typing.current) setText(value);
    typing.current = false;
  }, [value]);
  // What is taken back is shown also where one is typing.
  const { saidAt } = useHistoryEnds();
  const seen = useRef(saidAt);
  useEffect(() => {
    if (seen.current === saidAt) return;
    seen.current = saidAt;
    setText(value);
  }, [saidAt, value]);
  return (
    <input
      {...rest}
      aria-label={label}
      aria-invalid={wanting || undefined}
      data-wanting={wanting}
      data-taken-back
      className={className}
      value={text}
      autoComplete="off"
      spellCheck={false}
      onFocus={(event) => {
        focused.current = true;
        stood.current = value;
        if (prose) event.target.setSelectionRange(value.length, value.length);
        else event.target.select();
        rest.onFocus?.(event);
      }}
      onBlur={(event) => {
        focused.current = false;
        setText(value);
        rest.onBlur?.(event);
      }}
      onChange={(event) => {
        typing.current = true;
        setText(event.target.value);
        onType(event.target.value);
      }}
      onKeyDown={(event) => {
        rest.onKeyDown?.(event);
        if (event.key === 'Enter' && !event.ctrlKey && !event.metaKey && !event.defaultPrevented) {
          event.preventDefault();
          focusNext(event.currentTarget);
        }
        if (event.key === 'Escape' && !event.defaultPrevented && text !== stood.current) {
          event.preventDefault();
          event.stopPropagation();
          setText(stood.current);
          onType(stood.current);
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
