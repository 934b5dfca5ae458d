import type { Collection } from '@/api/collections'

/** The views of the stages that share collections, by their tabs. */

/** What each collection is called on its tab. */
export const NAMES: Record<Collection, string> = {
  feedback_item: 'All feedback',
  excerpt: 'All excerpts',
  finding: 'All findings',
  person: 'People',
  account: 'Accounts',
  objective: 'All objectives',
  idea: 'All ideas',
  work_item: 'All work items',
  release: 'All releases',
  study: 'Studies',
  document: 'Documents',
  sprint: 'Sprints',
  page: 'Pages',
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
  work_item: 'specify',
  release: 'plan',
  study: 'listen',
  document: 'specify',
  sprint: 'plan',
  page: 'specify',
}

const list = (collection: Collection): Tab => ({
  name: 'collection',
  label: NAMES[collection],
  params: { stage: STAGE_OF[collection], collection },
})

export const LISTEN: readonly Tab[] = [
  { name: 'findings', label: 'Findings' },
  { name: 'feedback', label: 'Feedback' },
  list('feedback_item'),
  list('excerpt'),
  list('person'),
  list('account'),
  list('study'),
  { name: 'bring-in', label: 'Bring in' },
]
export const DECIDE: readonly Tab[] = [
  { name: 'ranking', label: 'Ranking' },
  { name: 'objectives', label: 'Objectives' },
  { name: 'decisions', label: 'Decisions' },
  list('idea'),
]
export const SPECIFY: readonly Tab[] = [
  { name: 'stories', label: 'Epics and stories' },
  list('work_item'),
  list('document'),
  list('page'),
]
export const PLAN: readonly Tab[] = [{ name: 'releases', label: 'Releases' }, list('release'), list('sprint')]

/** The tabs of the stage where a collection stands. */
export function tabsOf(collection: Collection): readonly Tab[] {
  const all = [LISTEN, DECIDE, SPECIFY, PLAN]
  return all.find((tabs) => tabs.some((tab) => tab.params?.collection === collection)) ?? LISTEN
}
