import { useState } from 'react';
import { answered, api, type WordRenamed } from '../api/client';
import { useStep } from '../shop/useStep';
import { Typed } from '../ui/Typed';

/** Gives a word another name: pressed, it becomes a line to type in. It is one step, which Ctrl Z takes back. */
export function RenameWord({
  kind,
  option = null,
  word,
  onRenamed,
}: {
  kind: string;
  option?: string | null;
  word: string;
  onRenamed?: (becomes: string) => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const [failure, setFailure] = useState('');
  const step = useStep();
  const rename = async (becomes: string) => {
    setFailure('');
    try {
      await step(`${word} is ${becomes} now`, () =>
        answered<WordRenamed>(api.POST('/api/words/rename', { body: { kind, option, word, becomes } })),
      );
      setTyped(null);
      onRenamed?.(becomes);
    } catch (error) {
      setFailure((error as Error).message);
    }
  };
  if (typed === null)
    return (
      <button type="button" className="word" aria-label={`rename ${word}`} onClick={() => setTyped(word)}>
        rename…
      </button>
    );
  return (
    <form
      className="inline-flex flex-wrap items-baseline gap-x-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (typed.trim() === word) setTyped(null);
        else rename(typed.trim());
      }}
      onKeyDown={(event) => {
        if (event.key !== 'Escape') return;
        event.stopPropagation();
        setTyped(null);
      }}
    >
      <Typed label={`What ${word} is called now`} value={typed} onType={setTyped} prose autoFocus />
      <button type="submit" className="stamp">
        rename everywhere
      </button>
      {failure && (
        <span role="alert" className="w-full text-doubt">
          ⚠ {failure}
        </span>
      )}
    </form>
  );
}
