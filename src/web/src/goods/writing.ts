import { answered, api, type GoodsWritten, type Json } from '../api/client';
import { useStep } from '../shop/useStep';
import { announce } from '../ui/announce';

/** An item as it is written: its SKU, and the members that change. */
export type ItemChange = { sku: string } & Json;

/** Writes items; what is written can be taken back, as the one step that it is. */
export function useWriteGoods() {
  const step = useStep();
  return async (items: ItemChange[], what: string): Promise<GoodsWritten> => {
    const written = await step(what, () => answered<GoodsWritten>(api.POST('/api/goods', { body: { items, what } })));
    announce(written.changed === 0 ? 'Nothing differs.' : `${what}.`);
    return written;
  };
}
