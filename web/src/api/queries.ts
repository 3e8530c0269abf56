// What screens ask the server for, by key.
import { useQuery } from '@tanstack/vue-query'
import type { Ref } from 'vue'
import { api, take } from './client'

export const keys = {
  shop: ['shop'] as const,
  plans: ['plans'] as const,
  build: (build: string) => ['build', build] as const,
}

export const useShop = () =>
  useQuery({
    queryKey: keys.shop,
    queryFn: async () => take(await api.GET('/api/shop')),
    refetchInterval: 5000,
  })

export const usePlans = () =>
  useQuery({ queryKey: keys.plans, queryFn: async () => take(await api.GET('/api/plans')) })

export const useBuild = (build: Ref<string>) =>
  useQuery({
    queryKey: ['build', build, 'line'],
    queryFn: async () =>
      take(await api.GET('/api/builds/{build}', { params: { path: { build: build.value } } })),
  })

export const useBench = (build: Ref<string>, operation: Ref<string>) =>
  useQuery({
    queryKey: ['build', build, 'bench', operation],
    queryFn: async () =>
      take(
        await api.GET('/api/builds/{build}/operations/{operation}', {
          params: { path: { build: build.value, operation: operation.value } },
        }),
      ),
  })

export const useSheet = (build: Ref<string>) =>
  useQuery({
    queryKey: ['build', build, 'sheet'],
    queryFn: async () =>
      take(await api.GET('/api/builds/{build}/sheet', { params: { path: { build: build.value } } })),
  })
