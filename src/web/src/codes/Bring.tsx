import { useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import type { Problem } from '../api/client';

/** Brings a batch from a CSV file with a column "code"; every bad row is told by its number, and nothing is brought by half. */
export function Bring() {
  const queries = useQueryClient();
  const chosen = useRef<HTMLInputElement>(null);
  const [problems, setProblems] = useState<Problem[]>([]);
  const [brought, setBrought] = useState<string | null>(null);
  const bring = async (file: File) => {
    setProblems([]);
    setBrought(null);
    try {
      const response = await fetch(`/api/batches/bring?note=${encodeURIComponent(`brought, ${file.name}`.slice(0, 200))}`, {
        method: 'POST',
        headers: { 'Content-Type': 'text/csv' },
        body: await file.text(),
      });
      const answer = await response.json();
      if (response.ok) setBrought(`${answer.codes} codes are in the batch ${answer.id}.`);
      else setProblems(answer.problems ?? [{ at: '', code: 'failed', message: answer.detail }]);
    } catch {
      setProblems([{ at: '', code: 'failed', message: 'The server does not answer. Try again when it is back.' }]);
    }
    queries.invalidateQueries({ queryKey: ['batches'] });
  };
  return (
    <div className="px-4 pb-1">
      <input
        ref={chosen}
        type="file"
        accept=".csv,text/csv"
        className="sr-only"
        tabIndex={-1}
        aria-label="A CSV file with a column “code”"
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          if (file) bring(file);
          event.target.value = '';
        }}
      />
      <button type="button" className="word" onClick={() => chosen.current?.click()}>
        bring codes from a file…
      </button>
      <div role="status">
        {brought && <p>{brought}</p>}
        {problems.map((problem) => (
          <p key={`${problem.at} ${problem.message}`} className="text-doubt">
            ⚠ {problem.message}
          </p>
        ))}
      </div>
    </div>
  );
}
