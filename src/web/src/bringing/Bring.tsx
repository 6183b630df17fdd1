import { useState } from 'react';
import { ChooseFile } from '../ui/ChooseFile';
import { LISTS, useBringFile } from './bringFile';

type Props = {
  words?: string;
  label?: string;
  what?: string;
  /** It is not what this place is for. */
  quiet?: boolean;
};

/** Brings a list of goods, shoppers or past orders from a file; what it would do is looked at before anything is written. */
export function Bring({ words = 'from a file…', label = 'A list of goods', what, quiet = false }: Props) {
  const bring = useBringFile();
  const [failure, setFailure] = useState('');
  const [busy, setBusy] = useState(false);
  const take = async (file: File) => {
    setFailure('');
    setBusy(true);
    try {
      await bring(file, what);
    } catch (error) {
      setFailure((error as Error).message);
    } finally {
      setBusy(false);
    }
  };
  return (
    <>
      <ChooseFile label={label} accept={LISTS} onFile={take}>
        {(choose) => (
          <button type="button" className={quiet ? 'word' : 'stamp'} aria-disabled={busy} onClick={() => !busy && choose()}>
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
