import { useQuery } from '@pinia/colada'
import { toValue, type MaybeRefOrGetter } from 'vue'
import type { Collection } from './collections'
import { useAttempt } from './attempt'
import { TOLD, useRefresh } from './queries'
import { api, value, type Schemas, type Thing } from './client'

/** What is said of things, what people are told, what runs by itself, and the opening page. */
type Of<T> = MaybeRefOrGetter<T>

export const useTalk = (thing: Of<Thing | undefined>) =>
  useQuery({
    key: () => ['talk', toValue(thing)?.kind ?? '', toValue(thing)?.id ?? 0],
    query: () => {
      const { kind, id } = toValue(thing) ?? { kind: 'idea' as const, id: 0 }
      return value(api.GET('/api/v1/talk/{kind}/{id}', { params: { path: { kind, id } } }))
    },
    enabled: () => toValue(thing) !== undefined,
  })

export const useNotices = () => useQuery({ key: ['notices'], query: () => value(api.GET('/api/v1/notices')) })

/** Marks what I was told as read: these, or all of it. */
export function useReadNotices() {
  const attempt = useAttempt()
  const refresh = useRefresh()
  return async (ids: number[] = []) => {
    await attempt(() => value(api.POST('/api/v1/notices/read', { body: { ids } })))
    await refresh([TOLD])
  }
}

export const useNoticeSettings = () =>
  useQuery({ key: ['notice-settings'], query: () => value(api.GET('/api/v1/notices/settings')) })

export const useOutbox = (enabled: Of<boolean>) =>
  useQuery({
    key: ['notices', 'outbox'],
    query: () => value(api.GET('/api/v1/outbox')),
    enabled: () => toValue(enabled),
  })

export const useOpening = (product: Of<number>) =>
  useQuery({
    key: () => ['opening', toValue(product)],
    query: () => value(api.GET('/api/v1/opening', { params: { query: { product: toValue(product) } } })),
    placeholderData: (before) => before,
  })

export const useRules = (product: Of<number>) =>
  useQuery({
    key: () => ['rules', toValue(product)],
    query: () => value(api.GET('/api/v1/rules', { params: { query: { product: toValue(product) } } })),
  })

export const useRuleRuns = (id: Of<number | undefined>) =>
  useQuery({
    key: () => ['rules', 'runs', toValue(id) ?? 0],
    query: () => value(api.GET('/api/v1/rules/{id}/runs', { params: { path: { id: toValue(id) ?? 0 } } })),
    enabled: () => toValue(id) !== undefined,
  })

export const useRuleFields = (collection: Of<Collection>) =>
  useQuery({
    key: () => ['fields', 'rules', toValue(collection)],
    query: () =>
      value(api.GET('/api/v1/rules/fields/{collection}', { params: { path: { collection: toValue(collection) } } })),
    placeholderData: (before) => before,
  })

export type Comment = Schemas['CommentView']
