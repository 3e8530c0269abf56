// What screens ask the server for, by key.
import { keepPreviousData, useInfiniteQuery, useQuery, useQueryClient } from '@tanstack/vue-query'
import type { Ref } from 'vue'
import { api, take, type Schemas } from './client'
import { person } from '../ui/preferences'
import { isLatest } from './outbox'
import { isLead } from './session'
import { setUnits } from '../ui/units'

export const keys = {
  shop: ['shop'] as const,
  plans: ['plans'] as const,
  build: (build: string) => ['build', build] as const,
}

/** Orders of the lists of engines and parts. */
export type EngineOrder = 'status' | 'last-work' | 'name'
export type PartsOrder = 'last-logged' | 'serial'

/** What of the list of engines is wanted. */
export interface ShopWanted {
  show: Schemas['BuildStatus'] | null
  sort: EngineOrder
  find: string
}

const SHOP_MS = 5000
const first = undefined as string | undefined

/** The engines that are wanted, page by page. All pages are asked for again after a while. */
export const useEngines = (wanted: Ref<ShopWanted>) =>
  useInfiniteQuery({
    queryKey: [...keys.shop, 'engines', wanted],
    queryFn: async ({ pageParam: after }) => {
      const { show, find, sort } = wanted.value
      return take(await api.GET('/api/shop', { params: { query: { show: show ?? undefined, find, sort, after } } }))
    },
    initialPageParam: first,
    getNextPageParam: (page) => page.next ?? undefined,
    refetchInterval: (query) => SHOP_MS * (query.state.data?.pages.length ?? 1),
    enabled: () => !!person.value,
    placeholderData: keepPreviousData,
  })

/** The people and instruments of the shop. */
export const useShop = () =>
  useQuery({
    queryKey: [...keys.shop, 'people'],
    queryFn: async () => take(await api.GET('/api/shop', { params: { query: { limit: 1 } } })),
    refetchInterval: SHOP_MS,
    enabled: () => !!person.value,
  })

/** Parts whose serial, mark or set number has these words, page by page. */
export const useParts = (find: Ref<string>, sort: Ref<PartsOrder>) =>
  useInfiniteQuery({
    queryKey: ['parts', find, sort],
    queryFn: async ({ pageParam: after }) =>
      take(await api.GET('/api/parts', { params: { query: { find: find.value, sort: sort.value, after } } })),
    initialPageParam: first,
    getNextPageParam: (page) => page.next ?? undefined,
    placeholderData: keepPreviousData,
  })

/** What is wrong with the server of the shop: for leads. */
export const useShopFaults = () =>
  useQuery({
    queryKey: ['shop-faults'],
    queryFn: async () => take(await api.GET('/api/shop-faults')),
    refetchInterval: 60_000,
    enabled: isLead,
  })

export const usePlans = () => useQuery({ queryKey: keys.plans, queryFn: async () => take(await api.GET('/api/plans')) })

export const useBuild = (build: Ref<string>) =>
  useQuery({
    queryKey: ['build', build, 'line'],
    queryFn: async () => take(await api.GET('/api/builds/{build}', { params: { path: { build: build.value } } })),
  })

/** One operation at the bench, asked for or come with the answer to a command. */
export function useBench(build: Ref<string>, operation: Ref<string>) {
  const client = useQueryClient()
  const key = (operation: string) => ['build', build.value, 'bench', operation]
  const { data, error, refetch } = useQuery({
    queryKey: ['build', build, 'bench', operation],
    queryFn: async () =>
      take(
        await api.GET('/api/builds/{build}/operations/{operation}', {
          params: { path: { build: build.value, operation: operation.value } },
        }),
      ),
  })
  /**
   * What came is shown at once, whatever was being asked for: that may be older. Where something newer is shown or
   * known of, that is asked for, and nobody waits for it.
   */
  async function show(bench: Schemas['OperationBench'] | null | undefined) {
    if (!bench) return refetch()
    const queryKey = key(bench.operation.id)
    const shown = client.getQueryData<Schemas['OperationBench']>(queryKey)
    if (shown && shown.seq > bench.seq) return void refetch()
    const asked = client.isFetching({ queryKey }) > 0
    await client.cancelQueries({ queryKey })
    client.setQueryData(queryKey, bench)
    if (asked || !isLatest(build.value, bench.seq)) void refetch()
  }
  return { data, error, refresh: refetch, show }
}

export const useSheet = (build: Ref<string>) =>
  useQuery({
    queryKey: ['build', build, 'sheet'],
    queryFn: async () => take(await api.GET('/api/builds/{build}/sheet', { params: { path: { build: build.value } } })),
  })

/** Fetches the units that figures are shown in, with their factors. */
export async function loadUnits(): Promise<void> {
  setUnits(take(await api.GET('/api/units')))
}
