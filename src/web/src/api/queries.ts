import { keepPreviousData, type UseQueryResult, useInfiniteQuery, useQueries, useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback } from 'react';
import {
  answered,
  api,
  type BatchRow,
  type Cart,
  type CodeStory,
  type CurrencyAmount,
  type CurveAnswer,
  type EditionComparison,
  type EditionPrices,
  type EditionRows,
  type FoundCodes,
  type FoundTerm,
  type GoodsCategory,
  type GoodsDetail,
  type GoodsItem,
  type GoodsPage,
  type GoodsStep,
  type Hardness,
  type ImportState,
  type ItemInfo,
  type Json,
  type KeyRow,
  type MeetingsCount,
  type MeetingsOf,
  type MeetingsTable,
  type NowLive,
  type OrderRows,
  type OrderRules,
  type PastOrderPage,
  type PastOrderRows,
  type PromotionHistory,
  type PromotionPage,
  type PromotionRow,
  type PromotionRows,
  type PromotionTakings,
  type RowFindings,
  type SaidIn,
  type SelectionInfo,
  type ShopInfo,
  type ShopperDetail,
  type ShopperInfo,
  type ShopperPage,
  type StockRow,
  type StoreOrder,
  type TakingsGlance,
  type TakingsTable,
  type WordRows,
} from './client';

export const useShop = () =>
  useQuery({ queryKey: ['shop'], staleTime: Number.POSITIVE_INFINITY, queryFn: () => answered<ShopInfo>(api.GET('/api/shop')) });

/** What is live, looked at again and again, so that what is written in another window is seen here. */
export const useNowLive = () =>
  useQuery({
    queryKey: ['edition'],
    refetchInterval: 2_000,
    staleTime: 0,
    queryFn: ({ signal }) => answered<NowLive>(api.GET('/api/edition', { signal })),
  });

export type RowFilter = {
  q?: string;
  state?: string;
  sku?: string;
  id?: string;
  kind?: string;
  family?: string;
  channel?: string;
  /** attention, name, start, end or use. */
  sort?: string;
  /** Ids that stand before all others. */
  first?: string;
};

/** So many rows are asked for at once. */
export const ROWS_AT_ONCE = 100;

const rows = (at: string | undefined, filter: RowFilter, part: number) => ({
  queryKey: ['promotions', at ?? 'now', filter, part],
  placeholderData: keepPreviousData,
  refetchInterval: 30_000,
  queryFn: ({ signal }: { signal: AbortSignal }) =>
    answered<PromotionRows>(
      api.GET('/api/promotions', { signal, params: { query: { at, ...filter, skip: part * ROWS_AT_ONCE, take: ROWS_AT_ONCE } } }),
    ),
});

/** The parts of the list that are in sight; the first always is, as it says how many there are. */
export const usePromotionRows = (at: string | undefined, filter: RowFilter, parts: number[]) =>
  useQueries({ queries: [...new Set([0, ...parts])].map((part) => rows(at, filter, part)), combine: joined });

function joined(results: UseQueryResult<PromotionRows>[]) {
  const [first] = results;
  const known = new Map<number, PromotionRow>();
  for (const { data } of results) for (const [place, row] of (data?.rows ?? []).entries()) known.set((data?.skip ?? 0) + place, row);
  return { first: first?.data, error: first?.error ?? null, rowAt: (place: number) => known.get(place) };
}

/** How much a second look finds of some promotions; those with nothing are left out. */
export const useRowFindings = (ids: string[]) =>
  useQuery({
    queryKey: ['promotions', 'findings', ids],
    enabled: ids.length > 0,
    staleTime: 30_000,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      answered<RowFindings[]>(api.GET('/api/promotions/findings', { signal, params: { query: { ids: ids.join(',') } } })),
  });

/** A few rows, for a search. */
export const useFoundPromotions = (q: string, take: number, enabled = true) =>
  useQuery({
    queryKey: ['promotions', 'found', q, take],
    enabled,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      answered<PromotionRows>(api.GET('/api/promotions', { signal, params: { query: { q: q || undefined, take } } })),
  });

/** Where one promotion stands at the clock. */
export const useStanding = (id: string, at: string | undefined, revision: number) =>
  useQuery({
    queryKey: ['promotions', 'one', id, at ?? 'now', revision],
    placeholderData: keepPreviousData,
    refetchInterval: 30_000,
    queryFn: async ({ signal }) => {
      const found = await answered<PromotionRows>(api.GET('/api/promotions', { signal, params: { query: { at, id } } }));
      return found.rows[0] ?? null;
    },
  });

export const usePromotion = (id: string, enabled = true) =>
  useQuery({
    enabled,
    queryKey: ['promotion', id],
    staleTime: 0,
    gcTime: 0,
    refetchOnWindowFocus: false,
    refetchOnReconnect: false,
    queryFn: () => answered<PromotionPage>(api.GET('/api/promotions/{id}', { params: { path: { id } } })),
  });

export const useTerms = (q: string) =>
  useQuery({
    queryKey: ['terms', q],
    placeholderData: keepPreviousData,
    staleTime: 60_000,
    queryFn: ({ signal }) => answered<FoundTerm[]>(api.GET('/api/items/terms', { signal, params: { query: { q } } })),
  });

export const useItems = (q: string, currency: string | undefined, enabled: boolean) =>
  useQuery({
    queryKey: ['items', q, currency],
    enabled,
    placeholderData: keepPreviousData,
    staleTime: 60_000,
    queryFn: ({ signal }) => answered<ItemInfo[]>(api.GET('/api/items', { signal, params: { query: { q, currency } } })),
  });

export const useShoppers = (q: string, enabled: boolean) =>
  useQuery({
    queryKey: ['shoppers', q],
    enabled,
    placeholderData: keepPreviousData,
    staleTime: 60_000,
    queryFn: ({ signal }) => answered<ShopperInfo[]>(api.GET('/api/shoppers', { signal, params: { query: { q } } })),
  });

export const useSelection = (selection: unknown, enabled: boolean) =>
  useQuery({
    queryKey: ['selection', selection],
    enabled,
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) => answered<SelectionInfo>(api.POST('/api/items/selection', { signal, body: selection as never })),
  });

/** What an amount of the base currency comes to in the others. */
export const useAmounts = (amount: string) =>
  useQuery({
    queryKey: ['amounts', amount],
    enabled: amount !== '',
    retry: false,
    staleTime: 60_000,
    queryFn: ({ signal }) => answered<CurrencyAmount[]>(api.GET('/api/amounts', { signal, params: { query: { amount } } })),
  });

// What can wait for the tape: it takes the server's processors for a while.
const BESIDE_THE_TAPE = { isBesideTheTape: true };

/** Gives up what is asked beside the tape: it is asked again when what is typed has settled. */
export function useGiveWay() {
  const queries = useQueryClient();
  return useCallback(() => {
    queries.cancelQueries({ predicate: ({ meta, state }) => state.fetchStatus === 'fetching' && meta?.isBesideTheTape === true });
  }, [queries]);
}

/** What is paid with more and more of an item; how many of it are in the cart now does not matter to it. */
export const useCurve = ({ document, cart, chosen }: { document: Json; cart: Cart; chosen?: string }, enabled: boolean) =>
  useQuery({
    enabled,
    meta: BESIDE_THE_TAPE,
    queryKey: [
      'curve',
      document,
      { ...cart, lines: cart.lines.map((line) => ({ ...line, quantity: line.sku === chosen ? 1 : line.quantity })) },
      chosen,
    ],
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: ({ signal }) =>
      answered<CurveAnswer>(api.POST('/api/curve', { signal, body: { draft: document, cart, sku: chosen ?? null, most: null } as never })),
  });

/** What shoppers read of a promotion as it is written. */
export const useSaid = ({ document, cart }: { document: Json; cart: Cart }, enabled: boolean) =>
  useQuery({
    queryKey: ['says', document, { ...cart, lines: [] }],
    enabled,
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: ({ signal }) =>
      answered<SaidIn[]>(api.POST('/api/says', { signal, body: { draft: document, cart, sku: null, most: null } as never })),
  });

/** The batches; looked at often while one is being made. */
export const useBatches = () =>
  useQuery<BatchRow[]>({
    queryKey: ['batches'],
    refetchInterval: (query) => (query.state.data?.some((batch) => batch.wanted != null && batch.wanted > batch.codes) ? 500 : 10_000),
    queryFn: ({ signal }) => answered<BatchRow[]>(api.GET('/api/batches', { signal })),
  });

export const useKeys = () =>
  useQuery<KeyRow[]>({ queryKey: ['keys'], queryFn: ({ signal }) => answered<KeyRow[]>(api.GET('/api/keys', { signal })) });

/** Shoppers as the merchant sees them, more of them as they are asked for. */
export const useShopperPage = (q: string, group: string) =>
  useInfiniteQuery({
    queryKey: ['shoppers', 'page', q, group],
    placeholderData: keepPreviousData,
    initialPageParam: 0,
    queryFn: ({ signal, pageParam }) =>
      answered<ShopperPage>(api.GET('/api/shoppers/page', { signal, params: { query: { q, group, from: pageParam, take: 100 } } })),
    getNextPageParam: (last, pages) => {
      const told = pages.reduce((sum, page) => sum + page.shoppers.length, 0);
      return told < last.count ? told : undefined;
    },
  });

export const useShopper = (id: string | null) =>
  useQuery({
    queryKey: ['shoppers', 'one', id],
    enabled: id !== null,
    queryFn: ({ signal }) => answered<ShopperDetail>(api.GET('/api/shoppers/{id}', { signal, params: { path: { id: id ?? '' } } })),
  });

export const useStock = (q: string, enabled: boolean) =>
  useQuery<StockRow[]>({
    queryKey: ['stock', q],
    enabled,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) => answered<StockRow[]>(api.GET('/api/stock', { signal, params: { query: { q } } })),
  });

type OrdersAsked = { q: string; state: string; shopper?: string; promotion?: string; from?: string; to?: string };

/** The shop's orders, those that changed last first; more of them as they are asked for. */
export const useOrders = (asked: OrdersAsked, enabled = true) =>
  useInfiniteQuery({
    enabled,
    queryKey: ['orders', asked],
    placeholderData: keepPreviousData,
    initialPageParam: undefined as number | undefined,
    queryFn: ({ signal, pageParam }) =>
      answered<OrderRows>(api.GET('/api/orders', { signal, params: { query: { ...asked, before: pageParam } } })),
    getNextPageParam: (last) => (last.hasMore ? last.orders[last.orders.length - 1]?.change : undefined),
  });

type Days = { from: string; to: string; beside: string; brought: boolean; promotion: string };

/** What promotions brought in a stretch; orders go on, so it is asked again. */
export const useTakings = ({ from, to, beside, brought }: Days) =>
  useQuery({
    queryKey: ['takings', from, to, beside, brought],
    placeholderData: keepPreviousData,
    refetchInterval: 5_000,
    queryFn: ({ signal }) => answered<TakingsTable>(api.GET('/api/takings', { signal, params: { query: { from, to, beside, brought } } })),
  });

export const useTakingsOf = ({ from, to, brought, promotion }: Days) =>
  useQuery<PromotionTakings>({
    queryKey: ['takings', 'of', promotion, from, to, brought],
    enabled: promotion !== '',
    refetchInterval: (query) => (query.state.data?.isBehind ? 700 : 10_000),
    queryFn: ({ signal }) =>
      answered<PromotionTakings>(
        api.GET('/api/takings/of/{promotion}', { signal, params: { path: { promotion }, query: { from, to, brought } } }),
      ),
  });

/** What each promotion brought in the last 28 days, by its id. */
export const useTakingsGlance = () =>
  useQuery({
    queryKey: ['takings', 'glance'],
    refetchInterval: 30_000,
    queryFn: ({ signal }) => answered<TakingsGlance[]>(api.GET('/api/takings/glance', { signal })),
    select: (rows) => new Map(rows.map((row) => [row.promotion, row])),
  });

// What is not looked at yet is asked for again soon; what is being written changes it, and is not followed key by key.
const [SOON, LATER] = [100, 5_000];

/** Who meets whom. */
export const useMeetings = () =>
  useQuery<MeetingsTable>({
    queryKey: ['meetings'],
    placeholderData: keepPreviousData,
    refetchInterval: ({ state: { data } }) => (data && data.known > 0 && data.known < data.pairs ? SOON : LATER),
    queryFn: ({ signal }) => answered<MeetingsTable>(api.GET('/api/meetings', { signal })),
  });

export const useMeetingsOf = (id: string) =>
  useQuery<MeetingsOf>({
    queryKey: ['meetings', 'of', id],
    enabled: id !== '',
    refetchInterval: ({ state: { data } }) => (data && !data.isWhole ? SOON : LATER),
    queryFn: ({ signal }) => answered<MeetingsOf>(api.GET('/api/meetings/of/{id}', { signal, params: { path: { id } } })),
  });

/** How many a promotion meets. */
export const useMeetingsCount = (id: string) =>
  useQuery<MeetingsCount>({
    queryKey: ['meetings', 'count', id],
    meta: BESIDE_THE_TAPE,
    placeholderData: keepPreviousData,
    refetchInterval: ({ state: { data } }) => (data && !data.isWhole ? SOON : LATER),
    queryFn: ({ signal }) => answered<MeetingsCount>(api.GET('/api/meetings/count/{id}', { signal, params: { path: { id } } })),
  });

/** The shop's words of a kind, with what holds them. */
export const useWords = (kind: string, q: string) =>
  useQuery({
    queryKey: ['words', kind, q],
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) => answered<WordRows>(api.GET('/api/words/{kind}', { signal, params: { path: { kind }, query: { q } } })),
  });

/** Orders from before. */
export const usePastOrders = (q: string) =>
  useInfiniteQuery({
    queryKey: ['past-orders', q],
    placeholderData: keepPreviousData,
    initialPageParam: undefined as string | undefined,
    queryFn: ({ signal, pageParam }) =>
      answered<PastOrderRows>(api.GET('/api/past-orders', { signal, params: { query: { q, before: pageParam } } })),
    getNextPageParam: (last) => (last.hasMore ? last.orders[last.orders.length - 1]?.next : undefined),
  });

export const usePastOrder = (id: number) =>
  useQuery({
    queryKey: ['past-order', id],
    queryFn: ({ signal }) => answered<PastOrderPage>(api.GET('/api/past-orders/{id}', { signal, params: { path: { id } } })),
  });

export const useOrder = (id: string) =>
  useQuery({
    queryKey: ['order', id],
    queryFn: ({ signal }) => answered<StoreOrder>(api.GET('/api/orders/{id}', { signal, params: { path: { id } } })),
  });

/** The rules by which an order was priced: an edition never changes, but what is live now does. */
export const useOrderRules = (id: string) =>
  useQuery({
    queryKey: ['order', id, 'rules'],
    queryFn: ({ signal }) => answered<OrderRules>(api.GET('/api/orders/{id}/rules', { signal, params: { path: { id } } })),
  });

export const useCodes = (q: string, batch: string | undefined, enabled = true) =>
  useQuery({
    queryKey: ['codes', q, batch],
    enabled,
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: ({ signal }) =>
      answered<FoundCodes>(api.GET('/api/codes', { signal, params: { query: { q: q || undefined, batch, take: 100 } } })),
  });

export const useStory = (code: string) =>
  useQuery({
    queryKey: ['story', code],
    retry: false,
    queryFn: ({ signal }) => answered<CodeStory>(api.GET('/api/codes/story', { signal, params: { query: { code } } })),
  });

/** How hard codes of a form are to guess. */
export const useHardness = (wish: object, enabled: boolean) =>
  useQuery({
    queryKey: ['hardness', wish],
    enabled,
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) => answered<Hardness>(api.POST('/api/batches/hardness', { signal, body: wish as never })),
  });

export const useEditions = () =>
  useQuery({
    queryKey: ['promotions', 'editions'],
    queryFn: ({ signal }) => answered<EditionRows>(api.GET('/api/editions', { signal, params: { query: { take: 500 } } })),
  });

export const useComparison = (from: number, to: number) =>
  useQuery({
    queryKey: ['comparison', from, to],
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      answered<EditionComparison>(api.GET('/api/editions/{from}/compare/{to}', { signal, params: { path: { from, to } } })),
  });

/** A cart under two editions. */
export const useEditionPrices = (from: number, to: number, cart: Cart) =>
  useQuery({
    queryKey: ['comparison', from, to, cart],
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: ({ signal }) =>
      answered<EditionPrices>(
        api.POST('/api/editions/{from}/compare/{to}/price', { signal, params: { path: { from, to } }, body: { cart: cart as never } }),
      ),
  });

/** What became of a promotion since it was first saved. */
export const useHistoryOf = (id: string, revision: number, enabled: boolean) =>
  useQuery({
    queryKey: ['promotion', id, 'history', revision],
    enabled,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) => answered<PromotionHistory>(api.GET('/api/promotions/{id}/history', { signal, params: { path: { id } } })),
  });

export type GoodsFilter = { q?: string; category?: string; filter?: string };

/** So many items are asked for at once. */
export const GOODS_AT_ONCE = 200;

/** The parts of the goods that are in sight; the first always is, as it says how many there are. */
export const useGoods = (filter: GoodsFilter, parts: number[]) =>
  useQueries({
    queries: [...new Set([0, ...parts])].map((part) => ({
      queryKey: ['goods', filter, part],
      placeholderData: keepPreviousData,
      queryFn: async ({ signal }: { signal: AbortSignal }) => ({
        from: part * GOODS_AT_ONCE,
        ...(await answered<GoodsPage>(
          api.GET('/api/goods', { signal, params: { query: { ...filter, from: part * GOODS_AT_ONCE, take: GOODS_AT_ONCE } } }),
        )),
      }),
    })),
    combine: joinedGoods,
  });

function joinedGoods(results: UseQueryResult<GoodsPage & { from: number }>[]) {
  const [first] = results;
  const known = new Map<number, GoodsItem>();
  for (const { data } of results) for (const [place, item] of (data?.items ?? []).entries()) known.set((data?.from ?? 0) + place, item);
  return {
    total: first?.data?.total ?? 0,
    all: first?.data?.all ?? 0,
    isThere: first?.data !== undefined,
    error: first?.error ?? null,
    itemAt: (place: number) => known.get(place),
  };
}

export const useGoodsCategories = () =>
  useQuery({
    queryKey: ['goods', 'categories'],
    queryFn: ({ signal }) => answered<GoodsCategory[]>(api.GET('/api/goods/categories', { signal })),
  });

export const useGoodsItem = (sku: string | null) =>
  useQuery({
    queryKey: ['goods', 'item', sku],
    enabled: sku !== null,
    retry: false,
    queryFn: ({ signal }) => answered<GoodsDetail>(api.GET('/api/goods/items/{sku}', { signal, params: { path: { sku: sku ?? '' } } })),
  });

export const useGoodsSteps = () =>
  useQuery({ queryKey: ['goods', 'steps'], queryFn: ({ signal }) => answered<GoodsStep[]>(api.GET('/api/goods/steps', { signal })) });

/** The import that goes on, in whichever window it was begun. */
export const useImport = () =>
  useQuery<ImportState | null>({
    queryKey: ['import'],
    refetchInterval: (query) => (query.state.data?.state === 'writing' ? 300 : 5_000),
    queryFn: async ({ signal }) => (await answered<ImportState | undefined>(api.GET('/api/imports', { signal }))) || null,
  });
