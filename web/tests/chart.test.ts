import { deepEqual, equal, ok } from 'node:assert/strict'
import { test } from 'node:test'
import { LEGEND_LINE, legendOf, median, namesOf, place, scaleOf, sign, type Named } from '@/features/collections/chart'
import { partsOf } from '@/shared/sides'
import { always } from './chance'

test('a scale holds all numbers and has a few round ticks at one distance', () => {
  always(500, (by) => {
    const size = 10 ** by.whole(-3, 7)
    const numbers = by.list(8, () => (by.share() - by.one([0, 0.5, 1])) * size)
    const fromZero = by.one([true, false])
    const scale = scaleOf(numbers, fromZero)
    const all = fromZero ? [0, ...numbers] : numbers
    const near = (scale.to - scale.from) * 1e-9
    for (const number of all) ok(number >= scale.from - near && number <= scale.to + near, `${number}`)
    ok(scale.ticks.length >= 2 && scale.ticks.length <= 8, `${scale.ticks.length} ticks`)
    const step = (scale.ticks[1] ?? 0) - (scale.ticks[0] ?? 0)
    scale.ticks.forEach((tick, n) => ok(Math.abs(tick - (scale.from + n * step)) < step * 1e-6))
    ok(Math.abs((scale.ticks.at(-1) ?? 0) - scale.to) < step * 1e-6)
    const mantissa = step / 10 ** Math.floor(Math.log10(step) + 1e-9)
    ok(
      [1, 2, 2.5, 5].some((one) => Math.abs(one - mantissa) < 1e-6),
      `${step}`,
    )
  })
})

test('what is counted has no half ticks', () => {
  always(300, (by) => {
    const scale = scaleOf(
      by.list(8, () => by.whole(-3, by.one([1, 4, 30, 4_000]))),
      by.one([true, false]),
    )
    ok(scale.ticks.every(Number.isInteger), `${scale.ticks.join(' ')}`)
    ok(scale.ticks.length >= 2 && scale.ticks.length <= 8, `${scale.ticks.length} ticks`)
  })
})

test('scales of hardly any numbers', () => {
  deepEqual(scaleOf([], true), { from: 0, to: 1, ticks: [0, 1] })
  deepEqual(scaleOf([0.5], true).ticks, [0, 0.1, 0.2, 0.3, 0.4, 0.5])
  deepEqual(scaleOf([3], true).ticks, [0, 1, 2, 3])
  deepEqual(scaleOf([11], true).ticks, [0, 5, 10, 15])
  const alone = scaleOf([5], false)
  ok(alone.from < 5 && alone.to > 5)
})

test('a value stands between the ends of its scale by its share', () => {
  const scale = scaleOf([0, 10], true)
  equal(place(0, scale, 200), 0)
  equal(place(5, scale, 200), 100)
  equal(place(10, scale, 200), 200)
})

test('names cover neither each other nor a point, and stay inside', () => {
  always(200, (by) => {
    const width = 600
    const points: Named[] = by.list(14, () => ({
      x: by.whole(0, width),
      y: by.whole(0, 300),
      r: by.whole(3, 12),
      text: by.one(['', 'S1', 'Notices', 'A longer name']),
    }))
    const names = namesOf(points, width)
    const boxes = [...names].map(([n, at]) => {
      const long = (points[n]?.text.length ?? 0) * 6.3
      return { n, box: [at.x, at.y - 11, at.x + long, at.y + 3] as const }
    })
    const meet = (a: readonly number[], b: readonly number[]) =>
      (a[0] ?? 0) < (b[2] ?? 0) && (b[0] ?? 0) < (a[2] ?? 0) && (a[1] ?? 0) < (b[3] ?? 0) && (b[1] ?? 0) < (a[3] ?? 0)
    for (const { n, box } of boxes) {
      ok(points[n]?.text !== '')
      ok(box[0] >= 0 && box[2] <= width)
      for (const other of boxes) ok(other.n === n || !meet(box, other.box))
      points.forEach(({ x, y, r }, m) => ok(m === n || !meet(box, [x - r, y - r, x + r, y + r])))
    }
  })
})

test('a name with room stands at the right of its point, and one at the edge at its left', () => {
  const point = { x: 100, y: 50, r: 6, text: 'Notices' }
  deepEqual(namesOf([point], 600).get(0), { x: 110, y: 54 })
  const left = namesOf([{ ...point, x: 590 }], 600).get(0)
  ok(left !== undefined && left.x < 590 - 6)
})

test('six series have six signs', () => {
  const signs = Array.from({ length: 6 }, (_, n) => sign(n, 10, 20, 5))
  equal(new Set(signs).size, 6)
  equal(sign(6, 10, 20, 5), signs[0])
  ok(signs.every((one) => one.startsWith('M') && one.endsWith('Z')))
})

test('the median is the middle one, or half way between two', () => {
  equal(median([]), undefined)
  equal(median([7]), 7)
  equal(median([9, 1, 5]), 5)
  equal(median([4, 1, 3, 2]), 2.5)
  always(200, (by) => {
    const numbers = [0, ...by.list(20, () => by.whole(-50, 50))]
    const middle = median(numbers) ?? NaN
    const below = numbers.filter((one) => one < middle).length
    const above = numbers.filter((one) => one > middle).length
    ok(below <= numbers.length / 2 && above <= numbers.length / 2)
  })
})

test('a length is divided among the sides by how many there are', () => {
  const parts = partsOf({ against: 1, neutral: 2, for_it: 1 } as never, 200)
  deepEqual(
    parts.map(({ side, from, length }) => [side, from, length]),
    [
      ['against', 0, 50],
      ['neutral', 50, 100],
      ['for_it', 150.5, 49],
    ],
  )
  deepEqual(partsOf({ against: 0, neutral: 0, for_it: 0 } as never, 200), [])
  always(200, (by) => {
    const spread = { against: by.whole(0, 9), neutral: by.whole(0, 9), for_it: by.whole(0, 9) }
    const parts = partsOf(spread as never, 100)
    equal(parts.length, Object.values(spread).filter((one) => one > 0).length)
    parts.forEach((part, n) => {
      const before = parts[n - 1]
      ok(part.from >= (before ? before.from + before.length - 1e-9 : 0))
      ok(part.from + part.length <= 100 + 1e-9)
    })
  })
})

test('names of series stand in lines, none of them over another or beyond the edge', () => {
  always(200, (by) => {
    const names = by.list(30, () => 'x'.repeat(by.whole(1, 60)))
    const width = by.whole(260, 900)
    const { entries, lines } = legendOf(names, width)
    equal(entries.length, names.length)
    entries.forEach(({ x, y, text }, n) => {
      ok(text === names[n] || (text.endsWith('…') && names[n]?.startsWith(text.slice(0, -1))))
      ok(x + 20 + text.length * 6.8 <= width)
      const before = entries[n - 1]
      ok(!before || y > before.y || x >= before.x + 20 + before.text.length * 6.8)
    })
    equal(lines, new Set(entries.map((one) => one.y)).size)
    equal((entries.at(-1)?.y ?? -LEGEND_LINE) + LEGEND_LINE, lines * LEGEND_LINE)
  })
})
