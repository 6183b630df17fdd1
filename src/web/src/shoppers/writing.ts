import { answered, api, type GoodsWritten, type Json } from '../api/client';
import { useStep } from '../shop/useStep';
import { announce } from '../ui/announce';

/** A shopper as they are written: the id, and the members that change. */
export type ShopperChange = { id: string } & Json;

/** Writes shoppers; what is written can be taken back, as the one step that it is. */
export function useWriteShoppers() {
  const step = useStep();
  return async (shoppers: ShopperChange[], what: string): Promise<void> => {
    const written = await step(what, () => answered<GoodsWritten>(api.POST('/api/shoppers', { body: { shoppers, what } })));
    announce(written.step == null ? 'Nothing differs.' : `${what}.`);
  };
}
