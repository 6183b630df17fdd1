import { keepPreviousData, useQuery } from '@tanstack/react-query';
import {
  answered,
  api,
  type FoundTerm,
  type ItemInfo,
  type PromotionPage,
  type PromotionRows,
  type SelectionInfo,
  type ShopInfo,
  type ShopperInfo,
} from './client';

export const useShop = () =>
  useQuery({ queryKey: ['shop'], staleTime: Number.POSITIVE_INFINITY, queryFn: () => answered<ShopInfo>(api.GET('/api/shop')) });

export type RowFilter = { q?: string; state?: string; sku?: string };

export const usePromotions = (at: string | undefined, filter: RowFilter) =>
  useQuery({
    queryKey: ['promotions', at ?? 'now', filter],
    placeholderData: keepPreviousData,
    refetchInterval: 30_000,
    queryFn: () => answered<PromotionRows>(api.GET('/api/promotions', { params: { query: { at, ...filter } } })),
  });

export const usePromotion = (id: string) =>
  useQuery({
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
    queryFn: () => answered<FoundTerm[]>(api.GET('/api/items/terms', { params: { query: { q } } })),
  });

export const useItems = (q: string, currency: string | undefined, enabled: boolean) =>
  useQuery({
    queryKey: ['items', q, currency],
    enabled,
    placeholderData: keepPreviousData,
    staleTime: 60_000,
    queryFn: () => answered<ItemInfo[]>(api.GET('/api/items', { params: { query: { q, currency } } })),
  });

export const useShoppers = (q: string, enabled: boolean) =>
  useQuery({
    queryKey: ['shoppers', q],
    enabled,
    placeholderData: keepPreviousData,
    staleTime: 60_000,
    queryFn: () => answered<ShopperInfo[]>(api.GET('/api/shoppers', { params: { query: { q } } })),
  });

export const useSelection = (selection: unknown, enabled: boolean) =>
  useQuery({
    queryKey: ['selection', selection],
    enabled,
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: () => answered<SelectionInfo>(api.POST('/api/items/selection', { body: selection as never })),
  });
