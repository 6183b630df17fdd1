import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { Problem } from '../api/client';
import { ChooseFile } from '../ui/ChooseFile';

/** Brings a batch from a CSV file with a column "code"; every bad row is told by its number, and nothing is brought by half. */
export function Bring() {
  const queries = useQueryClient();
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
      <ChooseFile label="A CSV file with a column “code”" accept=".csv,text/csv" onFile={bring}>
        {(choose) => (
          <button type="button" className="word" onClick={choose}>
            bring codes from a file…
          </button>
        )}
      </ChooseFile>
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
