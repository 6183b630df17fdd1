import { type ReactNode, useRef } from 'react';

type Props = {
  label: string;
  /** What can be chosen, as in an input of HTML. */
  accept: string;
  onFile: (file: File) => void;
  /** What is pressed to choose one. */
  children: (choose: () => void) => ReactNode;
};

/** A file that is chosen; the same can be chosen again. */
export function ChooseFile({ label, accept, onFile, children }: Props) {
  const chosen = useRef<HTMLInputElement>(null);
  return (
    <>
      <input
        ref={chosen}
        type="file"
        accept={accept}
        className="sr-only"
        tabIndex={-1}
        aria-label={label}
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          if (file) onFile(file);
          event.target.value = '';
        }}
      />
      {children(() => chosen.current?.click())}
    </>
  );
}
