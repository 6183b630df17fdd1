import { useRef, useState } from 'react';
import { useBringFile } from './bringing';

/** Brings a list of goods or shoppers from a file; what it would do is looked at before anything is written. */
export function BringGoods({ words = 'from a file…' }: { words?: string }) {
  const chosen = useRef<HTMLInputElement>(null);
  const bring = useBringFile();
  const [failure, setFailure] = useState('');
  const [busy, setBusy] = useState(false);
  const take = async (file: File) => {
    setFailure('');
    setBusy(true);
    try {
      await bring(file);
    } catch (error) {
      setFailure((error as Error).message);
    } finally {
      setBusy(false);
    }
  };
  return (
    <>
      <input
        ref={chosen}
        type="file"
        accept=".csv,.tsv,.txt,.xlsx,.json,.jsonl,.ndjson,.gz,.zip"
        className="sr-only"
        tabIndex={-1}
        aria-label="A list of goods"
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          if (file) take(file);
          event.target.value = '';
        }}
      />
      <button type="button" className="stamp" aria-disabled={busy} onClick={() => !busy && chosen.current?.click()}>
        {busy ? 'reading…' : words}
      </button>
      {failure && (
        <p role="alert" className="w-full text-doubt">
          ⚠ {failure}
        </p>
      )}
    </>
  );
}
