import { deepEqual, equal, ok } from 'node:assert/strict'
import { test } from 'node:test'
import type { FieldDef, RowView } from '@/api/collections'
import { firstOf, monthOf, weekday, weeksOf } from '@/features/collections/calendar'
import { dayNumber, daysOf, isoDay, placed, shifted, written, type Placed } from '@/features/collections/daySpans'
import { arrow, HEAD, lanesOf, LINE, range, SCALE, ticks, type Zoom } from '@/features/collections/timeline'
import { always } from './chance'

const row = (id: number, values: Record<string, unknown> = {}) => ({ id, values }) as unknown as RowView
const field = (name: string, type: string, more: object = {}) =>
  ({ name, type, label: name, editable: true, ...more }) as unknown as FieldDef
const date = (day: number) => new Date(day * 86_400_000)

test('a day has one number, and the number one day', () => {
  equal(dayNumber('1970-01-01'), 0)
  equal(dayNumber('2024-02-29'), 19_782)
  always(500, (by) => {
    const day = by.whole(-30_000, 60_000)
    equal(dayNumber(isoDay(day)), day)
    equal(weekday(day), (date(day).getUTCDay() + 6) % 7)
  })
})

test('a month begins on its first day', () => {
  always(300, (by) => {
    const month = by.whole(-600, 1_200)
    const first = date(firstOf(month))
    equal(first.getUTCDate(), 1)
    equal(monthOf(firstOf(month)), month)
    equal(monthOf(firstOf(month + 1) - 1), month)
  })
})

test('in a calendar each thing stands on each of its days, or is counted there', () => {
  always(200, (by) => {
    const month = by.whole(600, 720)
    const lanes = by.whole(1, 4)
    const things: Placed[] = by
      .list(14, () => 0)
      .map((_, n) => {
        const from = firstOf(month) + by.whole(-20, 40)
        return { row: row(n + 1), from, to: from + by.one([0, 0, 1, 3, 9, 30]) }
      })
    const weeks = weeksOf(month, things, lanes)
    ok(weeks.every((week) => weekday(week.monday) === 0))
    ok((weeks[0]?.monday ?? 1) <= firstOf(month))
    ok((weeks.at(-1)?.monday ?? 0) + 7 >= firstOf(month + 1))
    for (const week of weeks)
      for (let at = 0; at < 7; at++) {
        const day = week.monday + at
        const here = things.filter((one) => one.from <= day && one.to >= day)
        const strips = week.strips.filter((one) => one.column <= at && one.column + one.days > at)
        equal(strips.length + (week.more[at] ?? 0), here.length)
        ok(strips.every((one) => here.some((thing) => thing.row === one.row)))
        ok(strips.every((one) => one.lane < lanes))
        equal(new Set(strips.map((one) => one.lane)).size, strips.length)
      }
    for (const strip of weeks.flatMap((week) => week.strips.map((one) => ({ ...one, monday: week.monday })))) {
      equal(strip.before, strip.from < strip.monday)
      equal(strip.after, strip.to >= strip.monday + 7)
    }
  })
})

test('days come from one field or from two', () => {
  const [span, starts, ends] = [field('span', 'date_range'), field('starts', 'date'), field('ends', 'date')]
  const fields = [span, starts, ends]
  const one = daysOf({ kind: 'timeline', from: 'span', to: 'ends' } as never, fields)
  const two = daysOf({ kind: 'timeline', from: 'starts', to: 'ends' } as never, fields)
  deepEqual([one.from?.name, one.to?.name, one.fixed], ['span', 'span', undefined])
  deepEqual([two.from?.name, two.to?.name], ['starts', 'ends'])

  const whole = row(1, { span: '2026-03-01/2026-03-04', starts: '2026-03-02', ends: '2026-03-01' })
  deepEqual(placed(whole, one), { row: whole, from: dayNumber('2026-03-01'), to: dayNumber('2026-03-04') })
  // What ends before it begins is one day.
  deepEqual(placed(whole, two), { row: whole, from: dayNumber('2026-03-02'), to: dayNumber('2026-03-02') })
  const open = row(2, { starts: '2026-03-02' })
  deepEqual(placed(open, two), { row: open, from: dayNumber('2026-03-02'), to: dayNumber('2026-03-02') })
  equal(placed(row(3), two), undefined)
  equal(placed(whole, daysOf({ kind: 'timeline' } as never, fields)), undefined)
})

test('what is written is what was put down', () => {
  always(200, (by) => {
    const fields = [field('span', 'date_range'), field('starts', 'date'), field('ends', 'date')]
    const days = daysOf(
      { kind: 'timeline', ...by.one([{ from: 'span' }, { from: 'starts', to: 'ends' }]) } as never,
      fields,
    )
    const from = by.whole(15_000, 25_000)
    const to = from + by.whole(0, 400)
    const put = placed(row(1, written(days, from, to)), days)
    deepEqual([put?.from, put?.to], [from, to])
  })
  deepEqual(written(daysOf({ kind: 'timeline', from: 'starts' } as never, [field('starts', 'date')]), 0, 9), {
    starts: '1970-01-01',
  })
  deepEqual(written({ from: undefined, to: undefined, fixed: undefined }, 0, 9), {})
})

test('what cannot be moved says why', () => {
  const computed = field('due', 'date', { editable: false })
  const governed = field('due', 'date', { editable: false, governed: 'Its release says when.' })
  const fixed = (of: FieldDef) => daysOf({ kind: 'timeline', from: 'due' } as never, [of]).fixed
  equal(fixed(computed), 'due is computed.')
  equal(fixed(governed), 'Its release says when.')
  equal(fixed(field('due', 'date')), undefined)
})

test('keys move a thing, and with Shift its end, never before its beginning', () => {
  const press = (key: string, shiftKey = false) => ({ key, shiftKey }) as KeyboardEvent
  deepEqual(shifted({ from: 10, to: 12 }, press('ArrowLeft'), 7), { from: 9, to: 11 })
  deepEqual(shifted({ from: 10, to: 12 }, press('ArrowDown'), 7), { from: 17, to: 19 })
  deepEqual(shifted({ from: 10, to: 12 }, press('ArrowRight', true), 7), { from: 10, to: 13 })
  deepEqual(shifted({ from: 10, to: 12 }, press('ArrowUp', true), 7), { from: 10, to: 10 })
  equal(shifted({ from: 10, to: 12 }, press('Enter'), 7), undefined)
})

test('lanes lie under each other in the order of their labels, bars under each other in them', () => {
  const bar = (id: number, lane?: string) => ({ row: row(id), from: 0, to: 1, lane })
  const { lanes, height } = lanesOf([bar(1, 'b'), bar(2, 'a'), bar(3, 'b')], ['a', 'b', 'none'])
  deepEqual(
    lanes.map((lane) => [lane.label, lane.top, lane.bars.map((one) => [one.row.id, one.y])]),
    [
      ['a', 0, [[2, HEAD]]],
      [
        'b',
        HEAD + LINE,
        [
          [1, 2 * HEAD + LINE],
          [3, 2 * HEAD + 2 * LINE],
        ],
      ],
    ],
  )
  equal(height, 2 * HEAD + 3 * LINE)
  deepEqual(lanesOf([], undefined), { lanes: [{ label: undefined, top: 0, bars: [] }], height: 0 })
})

test('all bars and today are drawn', () => {
  always(100, (by) => {
    const zoom = by.one(Object.keys(SCALE) as Zoom[])
    const bars = by
      .list(5, () => by.whole(18_000, 22_000))
      .map((from) => ({ row: row(1), from, to: from + by.whole(0, 300) }))
    const [first, last] = range(bars, 20_000, zoom)
    ok(first <= 20_000 && last > 20_000)
    for (const bar of bars) ok(first <= bar.from && last > bar.to)
  })
})

test('lines stand at each day, week, month or quarter, and the year is told once', () => {
  const from = dayNumber('2026-12-20')
  const to = dayNumber('2027-04-10')
  const labels = (zoom: Zoom) => ticks(from, to, zoom).map((one) => one.label)
  deepEqual(labels('quarter'), ['Jan 2027', 'Feb', 'Mar', 'Apr'])
  deepEqual(labels('year'), ['2027 Q1', '2027 Q2'])
  deepEqual(labels('month').slice(0, 4), ['21 Dec 2026', '28 Dec', '4 Jan 2027', '11 Jan'])
  equal(ticks(from, to, 'week').length, to - from + 1)
  ok(ticks(from, to, 'month').every((one) => date(one.day).getUTCDay() === 1))
  ok(ticks(from, to, 'year').every((one) => one.strong === one.label.endsWith('Q1')))
})

test('an arrow goes from the end of one bar to the beginning of the next', () => {
  equal(arrow(0, 10, 100, 40), 'M0,10 H8 V40 H100')
  // Where there is no room between them it goes around.
  equal(arrow(100, 10, 90, 50), 'M100,10 H108 V30 H82 V50 H90')
})
