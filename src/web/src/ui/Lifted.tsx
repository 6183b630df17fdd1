import { Dialog } from 'radix-ui';
import type { ReactNode } from 'react';

type Props = {
  title: string;
  /** The title is only for those who hear it. */
  untitled?: boolean;
  open: boolean;
  onOpenChange: (open: boolean) => void;
  /** Where it lies and how wide it is. */
  place: string;
  children: ReactNode;
};

/** A slip of paper lifted over the page. */
export function Lifted({ title, untitled = false, open, onOpenChange, place, children }: Props) {
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/25" />
        <Dialog.Content
          aria-describedby={undefined}
          className={`fixed left-1/2 z-50 -translate-x-1/2 border border-ink bg-paper shadow-lift ${place}`}
        >
          <Dialog.Title className={untitled ? 'sr-only' : 'mb-2 font-medium'}>{title}</Dialog.Title>
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
