import { useQueryClient } from '@tanstack/react-query';
import { answered, api, type GoodsWritten, type Json } from '../api/client';
import { announce } from '../ui/announce';
import { useHistory } from '../ui/undo';

/** An item as it is written: its SKU, and the members that change. */
export type ItemChange = { sku: string } & Json;

/** Writes items; what is written can be taken back, as the one step that it is. */
export function useWriteGoods() {
  const queries = useQueryClient();
  const history = useHistory();
  const write = async (items: ItemChange[], what: string): Promise<GoodsWritten> => {
    const written = await answered<GoodsWritten>(api.POST('/api/goods', { body: { items, what } }));
    await queries.invalidateQueries();
    return written;
  };
  return async (items: ItemChange[], what: string): Promise<GoodsWritten> => {
    const written = await write(items, what);
    announce(written.changed === 0 ? 'Nothing differs.' : `${what}.`);
    if (written.step == null) return written;
    let step = written.step;
    history.push({
      words: what,
      of: 'list',
      undo: async () => {
        await answered(api.POST('/api/goods/steps/{number}/back', { params: { path: { number: step } } }));
        await queries.invalidateQueries();
      },
      redo: async () => {
        step = (await write(items, what)).step ?? step;
      },
    });
    return written;
  };
}
