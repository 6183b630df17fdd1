import { useState } from 'react';
import { LISTS, useBringFile } from '../shop/bringFile';
import { ChooseFile } from '../ui/ChooseFile';

/** Brings a list of goods or shoppers from a file; what it would do is looked at before anything is written. */
export function BringGoods({ words = 'from a file…' }: { words?: string }) {
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
      <ChooseFile label="A list of goods" accept={LISTS} onFile={take}>
        {(choose) => (
          <button type="button" className="stamp" aria-disabled={busy} onClick={() => !busy && choose()}>
            {busy ? 'reading…' : words}
          </button>
        )}
      </ChooseFile>
      {failure && (
        <p role="alert" className="w-full text-doubt">
          ⚠ {failure}
        </p>
      )}
    </>
  );
}
