import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Schemas } from '@/api/client'
import type { Side } from '@/shared/sides'
import { day, words } from '@/shared/words'

/** What was picked in pictures of what was said. It stands in the address, so that it can be shared and gone back to. */
export interface SaidFilter {
  from?: string
  to?: string
  source?: number
  segment?: string
  kind?: Schemas['FeedbackKind']
  side?: Side
}

const NAMES = ['from', 'to', 'source', 'segment', 'kind', 'side'] as const

/** What is picked, in the address of the page. */
export function useSaidFilter() {
  const route = useRoute()
  const router = useRouter()
  return computed<SaidFilter>({
    get() {
      const told = NAMES.flatMap((name) => {
        const text = route.query[name]
        return typeof text === 'string' ? [[name, name === 'source' ? Number(text) : text] as const] : []
      })
      return Object.fromEntries(told)
    },
    set(filter) {
      const without = Object.entries(route.query).filter(([name]) => !(NAMES as readonly string[]).includes(name))
      const told = NAMES.flatMap((name) => (filter[name] === undefined ? [] : [[name, String(filter[name])] as const]))
      void router.replace({ query: { ...Object.fromEntries(without), ...Object.fromEntries(told) } })
    },
  })
}

/** What a filter leaves, in words, each with the filter without it. */
export function toldFilter(filter: SaidFilter, sources: readonly Schemas['Part'][]): [string, SaidFilter][] {
  const { from, to, source, segment, kind, side } = filter
  const told: [string | undefined | false, SaidFilter][] = [
    [
      (from ?? to) && `${from ? day(from) : 'the beginning'} – ${to ? day(to) : 'today'}`,
      { ...filter, from: undefined, to: undefined },
    ],
    [segment !== undefined && (segment || 'no segment'), { ...filter, segment: undefined }],
    [
      source !== undefined && (sources.find((one) => one.key === String(source))?.label ?? 'one source'),
      { ...filter, source: undefined },
    ],
    [kind && words(kind), { ...filter, kind: undefined }],
    [side && { against: 'against', neutral: 'neutral', for_it: 'for' }[side], { ...filter, side: undefined }],
  ]
  return told.filter((one): one is [string, SaidFilter] => Boolean(one[0]))
}
