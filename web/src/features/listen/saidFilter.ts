import type { Schemas } from '@/api/client'
import type { Side } from '@/shared/sides'
import { day, words } from '@/shared/words'

/** Which excerpts behind a finding are looked at: what was picked in its pictures. */
export interface SaidFilter {
  from?: string
  to?: string
  source?: number
  segment?: string
  kind?: Schemas['FeedbackKind']
  side?: Side
}

/** What a filter leaves, in words, each with the filter without it. */
export function toldFilter(filter: SaidFilter, sources: readonly Schemas['Part'][]): [string, SaidFilter][] {
  const { from, to, source, segment, kind, side } = filter
  const told: [string | undefined | false, SaidFilter][] = [
    [from && `${day(from)} – ${day(to)}`, { ...filter, from: undefined, to: undefined }],
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
