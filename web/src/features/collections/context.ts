import { inject, provide, type ComputedRef, type InjectionKey } from 'vue'
import { api, value, type Schemas, type Thing } from '@/api/client'
import type { Ask, Collection, Definition, FieldDef, Query, RowView } from '@/api/collections'
import { useSave } from '@/api/save'
import { Typed } from '@/api/typed'
import { file } from './text'
import type { ViewState } from './viewState'

interface Context {
  collection: ComputedRef<Collection>
  product: ComputedRef<number>
  fields: ComputedRef<readonly FieldDef[]>
  team: ComputedRef<readonly Schemas['TeamMember'][]>
  definition: ComputedRef<Definition>
  state: ViewState
  /** What is asked, with more fields than are shown where a view needs them. */
  ask: (extra?: readonly (string | null | undefined)[], more?: Partial<Ask> & { query?: Partial<Query> }) => Ask
  thing: (id: number) => Thing
  /** Changes one field of a row that is on screen. */
  set: (row: RowView, field: string, to: unknown) => Promise<Schemas['Saved'] | undefined>
  /** Changes several fields of one row that is on screen, as one step. */
  setMany: (row: RowView, to: Record<string, unknown>) => Promise<Schemas['Saved'] | undefined>
  /** Changes several rows at once: all or nothing. */
  setAll: (changes: Schemas['CellChange'][]) => Promise<Schemas['Saved'] | undefined>
}

const KEY: InjectionKey<Context> = Symbol('collection')

type Given = Pick<Context, 'collection' | 'product' | 'fields' | 'team' | 'definition' | 'state'>

export function provideCollection(given: Given): Context {
  const { save, edit } = useSave()
  const thing = (id: number): Thing => ({ kind: given.collection.value, id })
  /** Links are no part of the row that a conflict is judged by. */
  const isLink = (name: string) => given.fields.value.find((one) => one.name === name)?.type === 'link'
  const setMany: Context['setMany'] = (row, to) => {
    const kept = Object.entries(row.values).filter(([name]) => !isLink(name))
    // A file is kept by its number.
    const seen = Object.fromEntries(kept.map(([name, value]) => [name, file(value)?.id ?? value]))
    const typed = Object.entries(to).map(([name, value]) => [name, new Typed(value, seen[name] ?? null)])
    return edit(thing(row.id), { ...seen, rev: row.rev }, Object.fromEntries(typed) as Record<string, unknown>)
  }
  const context: Context = {
    ...given,
    thing,
    ask: (extra = [], more = {}) => ({
      collection: given.collection.value,
      product: given.product.value,
      ...more,
      query: { ...given.state.queryFor(extra), ...more.query },
    }),
    set: (row, field, to) => setMany(row, { [field]: to }),
    setMany,
    setAll: (changes) =>
      save(
        value(
          api.POST('/api/v1/collections/{collection}/cells', {
            params: { path: { collection: given.collection.value } },
            body: { product: given.product.value, changes },
          }),
        ),
      ),
  }
  provide(KEY, context)
  return context
}

/** What conditions are made of: fields, and the people that they may name. */
type Filtered = Pick<Context, 'fields' | 'team'>
const FILTERED: InjectionKey<Filtered> = Symbol('filtered')

/** For conditions that stand elsewhere than in a view. */
export const provideFiltered = (given: Filtered) => provide(FILTERED, given)
export const useFiltered = (): Filtered => inject(FILTERED, undefined) ?? useCollection()

export function useCollection(): Context {
  const context = inject(KEY)
  if (!context) throw new Error('useCollection is called outside CollectionView')
  return context
}
