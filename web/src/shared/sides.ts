/** How what was said divides into against, neutral and for: the same in every picture. */
import type { Schemas } from '@/api/client'

export type Side = 'against' | 'neutral' | 'for_it'

/** Each side with its name, in the order in which it is drawn. */
export const SIDES: readonly [Side, string][] = [
  ['against', 'Against'],
  ['neutral', 'Neutral'],
  ['for_it', 'For'],
]

/** A length divided among the sides. An outline is drawn half inside, so that nothing sticks out. */
export function partsOf(spread: Schemas['Spread'], length: number) {
  const all = Math.max(1, spread.against + spread.neutral + spread.for_it)
  let at = 0
  return SIDES.flatMap(([side]) => {
    const from = at
    const long = (spread[side] / all) * length
    at += long
    const inset = side === 'for_it' ? Math.min(0.5, long / 2) : 0
    return long > 0 ? [{ side, from: from + inset, length: Math.max(0, long - 2 * inset) }] : []
  })
}
