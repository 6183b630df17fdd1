import { useQueryClient } from '@tanstack/react-query';
import { answered, api, type GoodsWritten, type Json } from '../api/client';
import { announce } from '../ui/announce';
import { useHistory } from '../ui/undo';

/** A shopper as they are written: the id, and the members that change. */
export type ShopperChange = { id: string } & Json;

/** Writes shoppers; what is written can be taken back, as the one step that it is. */
export function useWriteShoppers() {
  const queries = useQueryClient();
  const history = useHistory();
  return async (shoppers: ShopperChange[], what: string): Promise<void> => {
    const write = async () => {
      const written = await answered<GoodsWritten>(api.POST('/api/shoppers', { body: { shoppers, what } }));
      await queries.invalidateQueries();
      return written.step;
    };
    let step = await write();
    announce(step == null ? 'Nothing differs.' : `${what}.`);
    if (step == null) return;
    history.push({
      words: what,
      of: 'list',
      undo: async () => {
        await answered(api.POST('/api/goods/steps/{number}/back', { params: { path: { number: step ?? 0 } } }));
        await queries.invalidateQueries();
      },
      redo: async () => {
        step = (await write()) ?? step;
      },
    });
  };
}
