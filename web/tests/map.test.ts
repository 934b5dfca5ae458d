import { deepEqual, equal, ok } from 'node:assert/strict'
import { test } from 'node:test'
import { inCell, moved, slicesOf, type Cell, type Direction, type Target } from '@/features/map/grid'
import { always, type Chance } from './chance'

const story = (id: number, step_id: number, release_id: number | null, map_position: number) =>
  ({ id, step_id, release_id, map_position }) as never

test('slices follow the releases, and what is in none comes last', () => {
  const release = (id: number, title: string) => ({ id, title }) as never
  deepEqual(
    slicesOf([release(4, 'Spring'), release(2, 'Summer')]).map((one) => [one.id, one.title]),
    [
      [4, 'Spring'],
      [2, 'Summer'],
      [null, 'Not in a release yet'],
    ],
  )
})

test('a cell holds its stories in their order', () => {
  const all = [
    story(3, 1, null, 2),
    story(1, 1, null, 1),
    story(2, 1, null, 1),
    story(4, 1, 7, 0),
    story(5, 2, null, 0),
  ]
  deepEqual(
    inCell(all, { step: 1, release: null }).map((one) => one.id),
    [1, 2, 3],
  )
  deepEqual(
    inCell(all, { step: 1, release: 7 }).map((one) => one.id),
    [4],
  )
})

/** A map of some steps and slices with so many stories in each cell. */
function mapBy(by: Chance) {
  const steps = Array.from({ length: by.whole(1, 5) }, (_, n) => 10 + n)
  const releases: (number | null)[] = [...Array.from({ length: by.whole(0, 3) }, (_, n) => 20 + n), null]
  const count = new Map(
    steps.flatMap((step) => releases.map((release) => [`${step} ${release}`, by.whole(0, 4)] as const)),
  )
  const sizes = (cell: Cell) => count.get(`${cell.step} ${cell.release}`) ?? 0
  const step = by.one(steps)
  const release = by.one(releases)
  const from: Target = { step, release, at: by.whole(0, sizes({ step, release })) }
  return { from, go: (at: Target, way: Direction) => moved(at, way, steps, releases, sizes), steps, releases, sizes }
}

test('no key leads out of the map', () => {
  always(400, (by) => {
    const { from, go, steps, releases, sizes } = mapBy(by)
    let at = from
    for (const way of by.list(30, () => by.one(['left', 'right', 'up', 'down'] as const))) {
      at = go(at, way)
      ok(steps.includes(at.step) && releases.includes(at.release))
      ok(at.at >= 0 && at.at <= sizes(at))
    }
  })
})

test('down and up again leads back, and so does up and down', () => {
  always(400, (by) => {
    const { from, go } = mapBy(by)
    const below = go(from, 'down')
    if (below !== from) deepEqual(go(below, 'up'), from)
    const above = go(from, 'up')
    if (above !== from) deepEqual(go(above, 'down'), from)
  })
})

test('down again and again passes every place below once', () => {
  always(200, (by) => {
    const { go, releases, steps, sizes } = mapBy(by)
    const step = by.one(steps)
    let at: Target = { step, release: releases[0] ?? null, at: 0 }
    let places = 1
    for (let next = go(at, 'down'); next !== at; next = go(at, 'down')) {
      at = next
      places += 1
    }
    equal(
      places,
      releases.reduce((sum: number, release) => sum + sizes({ step, release }) + 1, 0),
    )
  })
})

test('to the side keeps the height as far as the next cell reaches', () => {
  const sizes = (cell: Cell) => (cell.step === 1 ? 5 : 2)
  const go = (from: Target, way: Direction) => moved(from, way, [1, 2], [null], sizes)
  deepEqual(go({ step: 1, release: null, at: 4 }, 'right'), { step: 2, release: null, at: 2 })
  deepEqual(go({ step: 1, release: null, at: 1 }, 'right'), { step: 2, release: null, at: 1 })
  deepEqual(go({ step: 2, release: null, at: 1 }, 'right'), { step: 2, release: null, at: 1 })
})
