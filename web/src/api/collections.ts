import { useQuery } from '@pinia/colada'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, value, type Schemas, type ThingKind } from './client'
import { KINDS } from './kinds.gen'

type Of<T> = MaybeRefOrGetter<T>
export type Collection = Schemas['Collection']
export type FieldDef = Schemas['FieldDef']
export type Query = Schemas['Query']
export type Filter = Schemas['Filter']
export type RowView = Schemas['RowView']
export type GroupView = Schemas['GroupView']
export type Definition = Schemas['ViewDefinition']
export type SavedView = Schemas['ViewView']
export type FirstView = Schemas['FirstView']

/** The field that things of a collection are called by. */
export const titleField = (collection: Collection) => KINDS[collection].title

/** What is asked of a collection; `within` are the keys of one group. */
export interface Ask {
  collection: Collection
  product: number
  query: Query
  /** Only these things, whatever the filter says. */
  only?: readonly number[]
  within?: readonly unknown[]
  skip?: number
  limit?: number
}

export const useCollections = () =>
  useQuery({ key: ['collections'], query: () => value(api.GET('/api/v1/collections')), staleTime: Infinity })

export const useTeam = () => useQuery({ key: ['team'], query: () => value(api.GET('/api/v1/team')) })

export const useFields = (collection: Of<Collection>) =>
  useQuery({
    key: () => ['fields', toValue(collection)],
    query: () =>
      value(
        api.GET('/api/v1/collections/{collection}/fields', { params: { path: { collection: toValue(collection) } } }),
      ),
  })

export const useViews = (product: Of<number>, collection: Of<Collection>) =>
  useQuery({
    key: () => ['views', toValue(product), toValue(collection)],
    query: () =>
      value(
        api.GET('/api/v1/collections/{collection}/views', {
          params: { path: { collection: toValue(collection) }, query: { product: toValue(product) } },
        }),
      ),
  })

const body = ({ product, query, within, only, skip, limit }: Ask) => ({
  product,
  query,
  within: [...(within ?? [])],
  only: [...(only ?? [])],
  skip,
  limit,
})

const keyOf = (sort: string, ask: Ask) => [
  sort,
  ask.collection,
  ask.product,
  JSON.stringify([ask.query, ask.within ?? [], ask.only ?? [], ask.skip ?? 0, ask.limit ?? 0]),
]

export const fetchRows = (ask: Ask) =>
  value(
    api.POST('/api/v1/collections/{collection}/rows', {
      params: { path: { collection: ask.collection } },
      body: body(ask),
    }),
  )

/** The views that come with the product. */
export function useFirstViews(collection: Of<Collection>) {
  const { data } = useCollections()
  return computed(() => data.value?.find((one) => one.name === toValue(collection))?.first_views)
}

/** A part of the rows; the last answer stays while the next one is on its way. */
export const useRows = (ask: Of<Ask>) =>
  useQuery({
    key: () => keyOf('rows', toValue(ask)),
    query: () => fetchRows(toValue(ask)),
    placeholderData: (before) => before,
  })

export const useGroups = (ask: Of<Ask>, enabled: Of<boolean> = true) =>
  useQuery({
    key: () => keyOf('groups', toValue(ask)),
    query: () => {
      const asked = toValue(ask)
      return value(
        api.POST('/api/v1/collections/{collection}/groups', {
          params: { path: { collection: asked.collection } },
          body: body(asked),
        }),
      )
    },
    enabled: () => toValue(enabled),
    placeholderData: (before) => before,
  })

export const useSearch = (product: Of<number>, words: Of<string>, kind: Of<ThingKind | undefined>) =>
  useQuery({
    key: () => ['search', toValue(product), toValue(words), toValue(kind) ?? ''],
    query: () => {
      const query = { product: toValue(product), words: toValue(words), kind: toValue(kind) }
      return value(api.GET('/api/v1/search', { params: { query } }))
    },
    enabled: () => toValue(words).trim().length > 1,
    placeholderData: (before) => before,
  })

/** What a view shows as a file of its own, handed to the browser to keep. */
export async function takeOut(ask: Ask, kind: Schemas['FileKind']) {
  const { data, response } = await api.POST('/api/v1/collections/{collection}/export', {
    params: { path: { collection: ask.collection } },
    body: { product: ask.product, query: ask.query, kind },
    parseAs: 'blob',
  })
  if (!response.ok || !data) return value(Promise.resolve({ error: await problemIn(data), response }))
  const name = /filename="(.+?)"/.exec(response.headers.get('content-disposition') ?? '')?.[1] ?? 'view'
  keep(data as unknown as Blob, name)
}

const problemIn = async (data: unknown) => (data instanceof Blob ? (JSON.parse(await data.text()) as unknown) : data)

/** Hands a file to the browser. */
export function keep(file: Blob, name: string) {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(file)
  link.download = name
  link.click()
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000)
}
