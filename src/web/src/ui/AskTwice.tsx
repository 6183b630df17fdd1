import { useEffect, useRef, useState } from 'react';

type Props = {
  /** What is pressed first. */
  words: string;
  /** What it is called to those who hear it; none: as it reads. */
  label?: string;
  /** What is pressed to do it. */
  sure: string;
  /** What is to be known of it. */
  warning?: string;
  onSure: () => Promise<void>;
};

/** Something that cannot be taken back: it is asked for once more before it is done. The focus stays with it. */
export function AskTwice({ words, label, sure, warning = 'This cannot be taken back.', onSure }: Props) {
  const [asked, setAsked] = useState(false);
  const first = useRef<HTMLButtonElement>(null);
  const leave = useRef<HTMLButtonElement>(null);
  const was = useRef(false);
  useEffect(() => {
    if (asked) leave.current?.focus();
    else if (was.current) first.current?.focus();
    was.current = asked;
  }, [asked]);
  if (!asked)
    return (
      <button ref={first} type="button" className="word" aria-label={label} onClick={() => setAsked(true)}>
        {words}
      </button>
    );
  return (
    <span className="inline-flex items-baseline gap-3">
      <span className="leading-[23px] text-doubt">{warning}</span>
      <button type="button" className="word" onClick={() => onSure().finally(() => setAsked(false))}>
        {sure}
      </button>
      <button ref={leave} type="button" className="word" onClick={() => setAsked(false)}>
        cancel
      </button>
    </span>
  );
}
