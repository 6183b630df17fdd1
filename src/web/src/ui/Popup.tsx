import { Popover } from 'radix-ui';
import { type ReactNode, useRef, useState } from 'react';

type Props = {
  /** What the part says. */
  words: string;
  /** What it is, for those who cannot see it. */
  label: string;
  /** Something must still be chosen here. */
  wanting?: boolean;
  width?: number;
  className?: string;
  /** Before Escape closes it. */
  onEscape?: () => void;
  children: (close: () => void) => ReactNode;
};

/** A part of a sentence that opens a small editor at its place. */
export function Popup({ words, label, wanting = false, width = 280, className = 'part', onEscape, children }: Props) {
  const [open, setOpen] = useState(false);
  const trigger = useRef<HTMLButtonElement>(null);
  // A press beside it that goes to nothing leaves the focus where it was opened, not on the page, whose keys would then take what is typed.
  const focusTrigger = () => {
    const at = document.activeElement;
    if (at === null || at.contains(trigger.current)) trigger.current?.focus({ preventScroll: true });
  };
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger
        ref={trigger}
        className={`${className} text-left`}
        aria-label={`${label}: ${words}`}
        data-open={open}
        data-wanting={wanting}
      >
        {words}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          collisionPadding={8}
          aria-label={label}
          style={{ width, maxHeight: 'var(--radix-popover-content-available-height)' }}
          className="z-20 overflow-auto border border-ink bg-paper p-3 shadow-lift"
          onEscapeKeyDown={onEscape}
          onCloseAutoFocus={() => window.setTimeout(focusTrigger)}
        >
          {children(() => setOpen(false))}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
