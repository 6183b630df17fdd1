import { createContext, type ReactNode, useContext, useMemo } from 'react';
import type { ShopInfo } from '../api/client';
import { type Format, formatIn } from '../ui/format';
import { readNumbersIn } from '../ui/numbers';

type Shop = { info: ShopInfo; format: Format };

const ShopContext = createContext<Shop | null>(null);

export function ShopProvider({ info, children }: { info: ShopInfo; children: ReactNode }) {
  const shop = useMemo(() => {
    readNumbersIn(info.locale);
    return {
      info,
      format: formatIn(
        info.locale,
        info.timeZone,
        Object.fromEntries(info.currencies.map((currency) => [currency.code, currency.exponent])),
      ),
    };
  }, [info]);
  return <ShopContext.Provider value={shop}>{children}</ShopContext.Provider>;
}

/** The shop, and how it writes amounts and moments. */
export function useShopContext(): Shop {
  const shop = useContext(ShopContext);
  if (!shop) throw new Error('There is no shop around this.');
  return shop;
}
