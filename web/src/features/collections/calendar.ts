import type { Placed } from './daySpans'

export interface Strip extends Placed {
  /** Weekday of its first day in this week, 0 for Monday. */
  column: number
  days: number
  lane: number
  /** Whether it begins before this week, or goes on after it. */
  before: boolean
  after: boolean
}

export interface Week {
  monday: number
  strips: Strip[]
  /** How many things more than fit stand on each day. */
  more: number[]
}

/** Weekday of a day since 1970, 0 for Monday; the first of 1970 was a Thursday. */
export const weekday = (day: number) => (((day + 3) % 7) + 7) % 7

/** The first day of a month, by its number of months since 1970. */
export const firstOf = (month: number) =>
  Math.round(Date.UTC(1970 + Math.floor(month / 12), ((month % 12) + 12) % 12, 1) / 86_400_000)

export const monthOf = (day: number) => {
  const date = new Date(day * 86_400_000)
  return (date.getUTCFullYear() - 1970) * 12 + date.getUTCMonth()
}

/** The weeks of a month with what stands in them, each thing on one line of its week; what does not fit is counted. */
export function weeksOf(month: number, things: readonly Placed[], lanes: number): Week[] {
  const first = firstOf(month)
  const end = firstOf(month + 1)
  const weeks: Week[] = []
  for (let monday = first - weekday(first); monday < end; monday += 7) {
    const here = things
      .filter((one) => one.from < monday + 7 && one.to >= monday)
      .sort((a, b) => a.from - b.from || b.to - b.from - (a.to - a.from) || a.row.id - b.row.id)
    const free: number[] = []
    const week: Week = { monday, strips: [], more: Array.from({ length: 7 }, () => 0) }
    for (const one of here) {
      const column = Math.max(0, one.from - monday)
      const last = Math.min(6, one.to - monday)
      let lane = free.findIndex((day) => day <= column)
      if (lane < 0) lane = free.length
      if (lane >= lanes) {
        for (let at = column; at <= last; at++) week.more[at] = (week.more[at] ?? 0) + 1
        continue
      }
      free[lane] = last + 1
      week.strips.push({
        ...one,
        column,
        days: last - column + 1,
        lane,
        before: one.from < monday,
        after: one.to > monday + 6,
      })
    }
    weeks.push(week)
  }
  return weeks
}
