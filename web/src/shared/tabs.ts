import type { Collection } from '@/api/collections'
import { KINDS } from '@/api/kinds.gen'

/** The views of the stages that share collections, by their tabs, and the places where things are looked at. */

export interface Tab {
  name: string
  label: string
  params?: Record<string, string | number>
}

/** The place of a collection; `query` may name a view and a thing. The product is that of the present address. */
export const listOf = (collection: Collection, query: Record<string, string> = {}) => ({
  name: 'collection',
  params: { stage: KINDS[collection].stage, collection },
  query,
})

/** The place of one thing of a collection. */
export const thingIn = (collection: Collection, id: number, view?: string) =>
  listOf(collection, { ...(view && { view }), at: `${collection}:${id}` })

const list = (collection: Collection, label: string = KINDS[collection].heading): Tab => ({
  name: 'collection',
  label,
  params: { stage: KINDS[collection].stage, collection },
})

export const LISTEN: readonly Tab[] = [
  list('finding'),
  { name: 'overview', label: 'Overview' },
  list('feedback_item'),
  list('excerpt'),
  list('person'),
  list('account'),
  list('study'),
  list('term'),
  { name: 'grouping', label: 'Suggestions' },
  { name: 'check', label: 'Check' },
  { name: 'ask', label: 'Ask' },
  { name: 'bring-in', label: 'Bring in' },
]
export const DECIDE: readonly Tab[] = [
  { name: 'ranking', label: 'Ranking' },
  list('idea'),
  list('request'),
  list('increment'),
  list('objective'),
  { name: 'objective-tree', label: 'Objective tree' },
  { name: 'market', label: 'Market' },
  list('competitor_note'),
  list('request_form', 'Forms'),
  { name: 'decisions', label: 'Decisions' },
]
export const SPECIFY: readonly Tab[] = [list('work_item'), list('document'), list('page')]
export const PLAN: readonly Tab[] = [list('release'), list('sprint')]

/** The tabs of the stage where a collection stands. */
export function tabsOf(collection: Collection): readonly Tab[] {
  const all = [LISTEN, DECIDE, SPECIFY, PLAN]
  return all.find((tabs) => tabs.some((tab) => tab.params?.collection === collection)) ?? LISTEN
}
