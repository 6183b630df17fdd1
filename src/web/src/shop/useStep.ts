import { useQueryClient } from '@tanstack/react-query';
import { answered, api } from '../api/client';
import { useHistory } from '../ui/undo';

/** Does something that is one step in the history of goods, shoppers and settings: it can be taken back from here, and done again. */
export function useStep() {
  const queries = useQueryClient();
  const history = useHistory();
  return async <Written extends { step: number | null }>(words: string, write: () => Promise<Written>): Promise<Written> => {
    const written = await write();
    await queries.invalidateQueries();
    // Where nothing differs there is nothing to take back.
    if (written.step == null) return written;
    let step = written.step;
    history.push({
      words,
      of: 'list',
      undo: async () => {
        await answered(api.POST('/api/goods/steps/{number}/back', { params: { path: { number: step } } }));
        await queries.invalidateQueries();
      },
      redo: async () => {
        step = (await write()).step ?? step;
        await queries.invalidateQueries();
      },
    });
    return written;
  };
}
