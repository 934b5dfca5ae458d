import type { Schemas } from '@/api/client'
import { dayNumber, isoDay, type Placed } from './daySpans'

export type Zoom = Schemas['Zoom']

/** Pixels a day. */
export const SCALE: Record<Zoom, number> = { week: 34, month: 11, quarter: 4.2, year: 1.5 }
export const LINE = 34
export const HEAD = 30

export interface Lane {
  label?: string
  top: number
  bars: (Placed & { y: number })[]
}

/** Lanes from above to below, in the order of their labels as they come; one without a label where there are none. */
export function lanesOf(placed: readonly (Placed & { lane?: string })[], labels: readonly string[] | undefined) {
  const lanes: Lane[] = []
  let top = 0
  for (const label of labels ?? [undefined]) {
    const mine = placed.filter((one) => label === undefined || one.lane === label)
    if (label !== undefined && mine.length === 0) continue
    const lane: Lane = { label, top, bars: [] }
    if (label !== undefined) top += HEAD
    for (const one of mine) {
      lane.bars.push({ ...one, y: top })
      top += LINE
    }
    lanes.push(lane)
  }
  return { lanes, height: top }
}

/** The first and the last day that are drawn: all bars, today, and some air. */
export function range(placed: readonly Placed[], today: number, zoom: Zoom): [number, number] {
  const air = Math.round(160 / SCALE[zoom])
  const from = Math.min(today, ...placed.map((one) => one.from)) - Math.round(air / 3)
  const to = Math.max(today + air, ...placed.map((one) => one.to + air))
  return [from, to]
}

export interface Tick {
  day: number
  label: string
  strong: boolean
}

const MONTH = new Intl.DateTimeFormat('en-GB', { month: 'short', timeZone: 'UTC' })

/** The lines behind the bars, with a label where there is room for one. */
export function ticks(from: number, to: number, zoom: Zoom): Tick[] {
  const found: Tick[] = []
  // The year stands where it begins, and with the first line.
  let named = 0
  for (let day = from; day <= to; day++) {
    const date = new Date(day * 86_400_000)
    const [month, dayOfMonth] = [date.getUTCMonth(), date.getUTCDate()]
    const year = date.getUTCFullYear()
    const firstOfMonth = dayOfMonth === 1
    const monday = date.getUTCDay() === 1
    const name = `${MONTH.format(date)}${year === named ? '' : ` ${year}`}`
    const before = found.length
    if (zoom === 'week')
      found.push({ day, label: monday || firstOfMonth ? `${dayOfMonth} ${name}` : String(dayOfMonth), strong: monday })
    else if (zoom === 'month' && monday) found.push({ day, label: `${dayOfMonth} ${name}`, strong: dayOfMonth <= 7 })
    else if (zoom === 'quarter' && firstOfMonth) found.push({ day, label: name, strong: month % 3 === 0 })
    else if (zoom === 'year' && firstOfMonth && month % 3 === 0)
      found.push({ day, label: `${year} Q${month / 3 + 1}`, strong: month === 0 })
    if (found.length > before) named = year
  }
  return found
}

/** A line from the end of what comes first to the beginning of what needs it. */
export function arrow(x1: number, y1: number, x2: number, y2: number): string {
  const out = Math.max(x1 + 8, Math.min(x2 - 8, x1 + 8))
  return x2 >= x1 + 16
    ? `M${x1},${y1} H${out} V${y2} H${x2}`
    : `M${x1},${y1} H${x1 + 8} V${(y1 + y2) / 2} H${x2 - 8} V${y2} H${x2}`
}

export const today = () =>
  dayNumber(isoDay(Math.floor((Date.now() - new Date().getTimezoneOffset() * 60_000) / 86_400_000)))
