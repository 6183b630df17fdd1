import { useQueryClient } from '@tanstack/react-query';
import { type ImportState, Refused, Unreachable } from '../api/client';

/** The lists that can be brought, as an input of HTML names them. */
export const LISTS = '.csv,.tsv,.txt,.xlsx,.json,.jsonl,.ndjson,.gz,.zip';

/** Sends a list to be looked at; what it holds is told from the list unless it is said. */
export function useBringFile() {
  const queries = useQueryClient();
  return async (file: File, what?: string): Promise<ImportState> => {
    const response = await fetch(`/api/imports?name=${encodeURIComponent(file.name)}${what ? `&what=${what}` : ''}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/octet-stream' },
      body: file,
    }).catch(() => {
      throw new Unreachable();
    });
    const answer = await response.json();
    if (!response.ok) throw new Refused(response.status, answer.problems ?? []);
    queries.setQueryData(['import'], answer);
    return answer;
  };
}
