import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Schemas } from '@/api/client'
import { useModels, useScores } from '@/api/queries'
import { useSelection } from '@/shared/selection'

export type Model = Schemas['ModelView']
export type Scored = Schemas['ScoredIdea']
type Range = Schemas['EstimateRange']

const THREE = new Intl.NumberFormat('en-GB', { maximumSignificantDigits: 3 })
const WHOLE = new Intl.NumberFormat('en-GB', { maximumFractionDigits: 0 })

/** A score as people read it: three places that count, from ten on whole. */
export const told = (value: number | null | undefined) =>
  value == null ? '–' : Math.abs(value) >= 10 ? WHOLE.format(value) : THREE.format(value)

/** An estimate: one number, or low – likely – high. */
export const range = (one: Range) =>
  one.low >= one.high ? told(one.likely) : `${told(one.low)} – ${told(one.likely)} – ${told(one.high)}`

/** An estimate as it is typed. */
export const typed = (one: Range) => (one.low >= one.high ? `${one.likely}` : `${one.low} ${one.likely} ${one.high}`)

/** The model and how many make the cut, both held in the address, so that a link opens what was seen. */
export function useRankedBy() {
  const route = useRoute()
  const router = useRouter()
  const { product } = useSelection()
  const key = computed(() => (typeof route.query.model === 'string' ? route.query.model : undefined))
  const top = computed(() => Math.min(Math.max(Number(route.query.top) || 3, 1), 100))
  const ask = computed(() => ({ product: product.value, model: key.value, top: top.value }))
  const { data: models } = useModels(product)
  const { data: scores, error, isPending } = useScores(ask)
  const model = computed(() => models.value?.find((one) => (key.value ? one.key === key.value : one.used)))
  const setBy = (change: { model?: string; top?: number }) => router.replace({ query: { ...route.query, ...change } })
  return { product, key, top, ask, models, model, scores, error, isPending, setBy }
}

/** What people call a field of a model. */
export const labelOf = (definition: Schemas['ModelDefinition'], field: string) =>
  definition.criteria.find((one) => one.field === field)?.label.toLowerCase() ?? field.replaceAll('_', ' ')
