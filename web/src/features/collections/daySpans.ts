import type { Definition, FieldDef, RowView } from '@/api/collections'
import { fieldOf } from './model'
import { span } from './text'

/** Whole days since 1970, of a day as YYYY-MM-DD. */
export const dayNumber = (iso: string) => Math.round(Date.parse(`${iso}T00:00:00Z`) / 86_400_000)
export const isoDay = (day: number) => new Date(day * 86_400_000).toISOString().slice(0, 10)

export interface Placed {
  row: RowView
  from: number
  to: number
}

/** Which fields hold the days of a view, and whether they can be moved. */
export function daysOf(view: Definition, fields: readonly FieldDef[]) {
  const from = fieldOf(fields, view.from)
  const to = from?.type === 'date_range' ? from : fieldOf(fields, view.to)
  const governed = from?.governed ?? to?.governed
  const computed = from && !from.editable ? from.label : to && !to.editable ? to.label : undefined
  return { from, to, fixed: governed ?? (computed && `${computed} is computed.`) }
}

export type DayFields = ReturnType<typeof daysOf>

/** Where a row stands; nothing where it has no first day. */
export function placed(row: RowView, { from, to }: DayFields): Placed | undefined {
  const first = span(row.values[from?.name ?? ''])
  if (!first) return undefined
  const last = to && to !== from ? span(row.values[to.name])?.[1] : first[1]
  return { row, from: dayNumber(first[0]), to: Math.max(dayNumber(first[0]), dayNumber(last ?? first[1])) }
}

/** What is written when a thing moves to these days. */
export function written({ from, to }: DayFields, first: number, last: number): Record<string, unknown> {
  if (!from) return {}
  if (from.type === 'date_range') return { [from.name]: `${isoDay(first)}/${isoDay(last)}` }
  const set: Record<string, unknown> = { [from.name]: isoDay(first) }
  if (to && to !== from) set[to.name] = isoDay(last)
  return set
}

/** What a key does to the days of a thing that is picked up. */
export function shifted(days: { from: number; to: number }, event: KeyboardEvent, down: number) {
  const by = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -down, ArrowDown: down }[event.key]
  if (by === undefined) return undefined
  if (event.shiftKey) return { from: days.from, to: Math.max(days.from, days.to + by) }
  return { from: days.from + by, to: days.to + by }
}
