import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Thing, ThingKind } from '@/api/client'
import type { Collection } from '@/api/collections'
import { STAGE_OF } from './tabs'

/** The product and the selected thing, both held in the address, so that a link opens exactly what was seen. */
export function useSelection() {
  const route = useRoute()
  const router = useRouter()
  const product = computed(() => Number(route.params.product))

  const selected = computed<Thing | undefined>(() => {
    const [kind, id] = String(route.query.at ?? '').split(':')
    return kind && Number(id) > 0 ? { kind: kind as ThingKind, id: Number(id) } : undefined
  })

  function select(kind: ThingKind, id: number) {
    if (!isSelected(kind, id)) void router.replace({ query: { ...route.query, at: `${kind}:${id}` } })
  }

  function isSelected(kind: ThingKind, id: number) {
    return selected.value?.kind === kind && selected.value.id === id
  }

  return { product, selected, select, isSelected }
}

/** What has no view of its own but its list. */
const ONLY_LISTS: readonly Collection[] = ['person', 'account', 'study', 'document', 'sprint', 'page']

/** Where a thing is looked at: the view of its stage with the thing selected. */
export function placeOf(thing: Thing, product: number) {
  const at = `${thing.kind}:${thing.id}`
  const names: Partial<Record<ThingKind, string>> = {
    feedback_item: 'feedback',
    excerpt: 'feedback',
    objective: 'objectives',
    idea: 'ranking',
    decision: 'decisions',
    work_item: 'stories',
    release: 'releases',
    result: 'results',
  }
  const collection = thing.kind as Collection
  if (ONLY_LISTS.includes(collection))
    return { name: 'collection', params: { product, stage: STAGE_OF[collection], collection }, query: { at } }
  if (thing.kind === 'finding') return { name: 'finding', params: { product, id: thing.id }, query: { at } }
  return { name: names[thing.kind] ?? 'findings', params: { product }, query: { at } }
}
