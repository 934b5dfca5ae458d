import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Thing, ThingKind } from '@/api/client'
import type { Collection } from '@/api/collections'
import { COLLECTIONS } from '@/api/kinds.gen'
import { listOf } from './tabs'

/** The product and the selected thing, both held in the address, so that a link opens exactly what was seen. */
export function useSelection() {
  const route = useRoute()
  const router = useRouter()
  const product = computed(() => Number(route.params.product))

  const selected = computed<Thing | undefined>(() => {
    const [kind, id] = String(route.query.at ?? '').split(':')
    return kind && Number(id) > 0 ? { kind: kind as ThingKind, id: Number(id) } : undefined
  })

  /** The thing of the collection on screen that is open: the selected one, or the one that holds it. */
  const opened = computed(() =>
    selected.value?.kind === route.params.collection ? selected.value?.id : Number(route.query.of) || undefined,
  )

  function select(kind: ThingKind, id: number) {
    if (isSelected(kind, id)) return
    const within = route.params.collection && kind !== route.params.collection ? opened.value : undefined
    void router.replace({ query: { ...route.query, at: `${kind}:${id}`, of: within } })
  }

  function isSelected(kind: ThingKind, id: number) {
    return selected.value?.kind === kind && selected.value.id === id
  }

  /** Whether the open thing takes the whole page; it stands in the address, so that a link opens what was seen. */
  const whole = computed(() => route.query.whole === 'yes' && opened.value !== undefined)
  const setWhole = (is: boolean) => router.replace({ query: { ...route.query, whole: is ? 'yes' : undefined } })

  return { product, selected, opened, select, isSelected, whole, setWhole }
}

/** Where a thing is looked at: the view of its stage with the thing selected. */
export function placeOf(thing: Thing, product: number) {
  const query: Record<string, string> = { at: `${thing.kind}:${thing.id}` }
  const params = { product }
  if (thing.kind === 'finding') return { name: 'finding', params: { product, id: thing.id }, query }
  if (thing.kind === 'result') return { name: 'results', params, query }
  // A decision is looked at among the ideas.
  const collection = thing.kind === 'decision' ? 'idea' : (thing.kind as Collection)
  const view: Record<string, string> = thing.kind === 'decision' ? { view: 'decisions' } : {}
  if (!COLLECTIONS.includes(collection))
    return { ...listOf('finding', query), params: { ...listOf('finding').params, product } }
  const place = listOf(collection, { ...view, ...query })
  return { ...place, params: { ...place.params, product } }
}
