import type { Collection } from '@/api/collections'

/** The views of the stages that share collections, by their tabs, and the places where things are looked at. */

/** What each collection is called on its tab. */
export const NAMES: Record<Collection, string> = {
  feedback_item: 'Feedback',
  excerpt: 'Excerpts',
  finding: 'Findings',
  person: 'People',
  account: 'Accounts',
  objective: 'Objectives',
  idea: 'Ideas',
  increment: 'Increments',
  request: 'Requests',
  request_form: 'Request forms',
  competitor_note: 'Competitor notes',
  work_item: 'Epics and stories',
  release: 'Releases',
  study: 'Studies',
  document: 'Documents',
  sprint: 'Sprints',
  page: 'Pages',
  term: 'Terms',
}

export interface Tab {
  name: string
  label: string
  params?: Record<string, string | number>
}

/** The stage where a collection stands. */
export const STAGE_OF: Record<Collection, string> = {
  feedback_item: 'listen',
  excerpt: 'listen',
  finding: 'listen',
  person: 'listen',
  account: 'listen',
  objective: 'decide',
  idea: 'decide',
  increment: 'decide',
  request: 'decide',
  request_form: 'decide',
  competitor_note: 'decide',
  work_item: 'specify',
  release: 'plan',
  study: 'listen',
  document: 'specify',
  sprint: 'plan',
  page: 'specify',
  term: 'listen',
}

/** The place of a collection; `query` may name a view and a thing. The product is that of the present address. */
export const listOf = (collection: Collection, query: Record<string, string> = {}) => ({
  name: 'collection',
  params: { stage: STAGE_OF[collection], collection },
  query,
})

/** The place of one thing of a collection. */
export const thingIn = (collection: Collection, id: number, view?: string) =>
  listOf(collection, { ...(view && { view }), at: `${collection}:${id}` })

const list = (collection: Collection, label = NAMES[collection]): Tab => ({
  name: 'collection',
  label,
  params: { stage: STAGE_OF[collection], collection },
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
