// What screens ask the server for, by key.
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'
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

/** What of the list of engines is wanted. */
export interface ShopWanted {
  show: Schemas['BuildStatus'] | null
  find: string
  limit: number
}

const SHOP_MS = 5000

/** The engines that are wanted, with the people and instruments of the shop. */
export const useEngines = (wanted: Ref<ShopWanted>) =>
  useQuery({
    queryKey: [...keys.shop, wanted],
    queryFn: async () => {
      const { show, find, limit } = wanted.value
      return take(await api.GET('/api/shop', { params: { query: { show: show ?? undefined, find, limit } } }))
    },
    refetchInterval: SHOP_MS,
    enabled: () => !!person.value,
    placeholderData: keepPreviousData,
  })

/** The people and instruments of the shop. */
export const useShop = () => useEngines(computed(() => ({ show: null, find: '', limit: 1 })))

/** What is wrong with the server of the shop: for leads. */
export const useShopFaults = () =>
  useQuery({ queryKey: ['shop-faults'], queryFn: async () => take(await api.GET('/api/shop-faults')), refetchInterval: 60_000, enabled: isLead })

export const usePlans = () =>
  useQuery({ queryKey: keys.plans, queryFn: async () => take(await api.GET('/api/plans')) })

export const useBuild = (build: Ref<string>) =>
  useQuery({
    queryKey: ['build', build, 'line'],
    queryFn: async () =>
      take(await api.GET('/api/builds/{build}', { params: { path: { build: build.value } } })),
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
  /** What came is shown unless something newer is known of, or may just be coming: then it is asked for. */
  async function show(bench: Schemas['Bench'] | null | undefined) {
    const queryKey = key(bench?.operation.id ?? operation.value)
    if (!bench || !isLatest(build.value, bench.seq) || client.isFetching({ queryKey })) return refetch()
    client.setQueryData(queryKey, bench)
  }
  return { data, error, refresh: refetch, show }
}

export const useSheet = (build: Ref<string>) =>
  useQuery({
    queryKey: ['build', build, 'sheet'],
    queryFn: async () =>
      take(await api.GET('/api/builds/{build}/sheet', { params: { path: { build: build.value } } })),
  })

/** Fetches the units that figures are shown in, with their factors. */
export async function loadUnits(): Promise<void> {
  setUnits(take(await api.GET('/api/units')))
}
