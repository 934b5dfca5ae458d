import { deepEqual, equal, ok } from 'node:assert/strict'
import { test } from 'node:test'
import {
  blocksOf,
  PAGE,
  ROW,
  rowsIn,
  stretchesOf,
  topOf,
  visible,
  type Block,
  type Section,
} from '@/features/collections/layout'
import { always, type Chance } from './chance'

const sectionsBy = (by: Chance): Section[] =>
  by.list(8, () => by.whole(0, 170)).map((count, n) => ({ keys: [n], label: `group ${n}`, count, totals: [] }))

/** Each row by itself: its section, and its place there. */
function rowsOf(sections: readonly Section[], folded: ReadonlySet<string>): [number, number][] {
  return sections.flatMap(({ keys, count }, section) =>
    folded.has(JSON.stringify(keys)) ? [] : Array.from({ length: count }, (_, at): [number, number] => [section, at]),
  )
}
const foldedBy = (by: Chance, sections: readonly Section[]) =>
  new Set(sections.filter(() => by.share() < 0.3).map(({ keys }) => JSON.stringify(keys)))

test('every row stands in one block, in its order, and blocks follow each other without a gap', () => {
  always(200, (by) => {
    const sections = sectionsBy(by)
    const folded = foldedBy(by, sections)
    const blocks = blocksOf(sections, folded)
    const told = blocks.flatMap((block) =>
      block.head ? [] : Array.from({ length: block.rows }, (_, n): [number, number] => [block.section, block.skip + n]),
    )
    const wanted = rowsOf(sections, folded)
    deepEqual(told, wanted)
    equal(rowsIn(blocks), wanted.length)
    let top = 0
    let first = 0
    for (const block of blocks) {
      deepEqual([block.top, block.first], [top, first])
      equal(block.height, (block.head ? 1 : block.rows) * ROW)
      ok(block.rows <= PAGE)
      top += block.height
      first += block.rows
    }
    equal(new Set(blocks.map((block) => block.id)).size, blocks.length)
  })
})

test('a row is found at its height', () => {
  always(100, (by) => {
    const sections = sectionsBy(by)
    const blocks = blocksOf(sections, new Set())
    const all = rowsIn(blocks)
    if (all === 0) return
    const row = by.whole(0, all - 1)
    // Each head above it takes the room of a row.
    const [section] = rowsOf(sections, new Set())[row] as [number, number]
    equal(topOf(blocks, row), (row + section + 1) * ROW)
  })
  equal(topOf([], 3), 0)
})

test('what can be seen is drawn, and half as much again on each side', () => {
  always(200, (by) => {
    const blocks = blocksOf(sectionsBy(by), new Set())
    const height = by.whole(100, 900)
    const from = by.whole(0, 20_000)
    const drawn = new Set(visible(blocks, from, height).map((block) => block.id))
    const meets = (block: Block, above: number, below: number) => block.top + block.height > above && block.top < below
    for (const block of blocks)
      equal(drawn.has(block.id), meets(block, from - height / 2, from + height + height / 2), block.id)
  })
})

test('marked rows are asked for section by section, each of them once', () => {
  always(300, (by) => {
    const sections = sectionsBy(by)
    const folded = foldedBy(by, sections)
    const blocks = blocksOf(sections, folded)
    const rows = rowsOf(sections, folded)
    if (rows.length === 0) return
    const from = by.whole(0, rows.length - 1)
    const to = by.whole(from, rows.length - 1)
    const most = by.one([PAGE, 100, 500])
    const stretches = stretchesOf(blocks, from, to, most)
    const told = stretches.flatMap(({ section, skip, rows }) =>
      Array.from({ length: rows }, (_, n): [number, number] => [section, skip + n]),
    )
    deepEqual(told, rows.slice(from, to + 1))
    ok(stretches.every((one) => one.rows <= most))
  })
})

test('2,000 rows of one section are four questions', () => {
  const blocks = blocksOf([{ keys: [], count: 100_000, totals: [] }], new Set())
  equal(blocks.length, 100_000 / PAGE)
  deepEqual(
    stretchesOf(blocks, 10, 2_009, 500).map(({ skip, rows }) => [skip, rows]),
    [
      [10, 490],
      [500, 500],
      [1_000, 500],
      [1_500, 500],
      [2_000, 10],
    ],
  )
})
