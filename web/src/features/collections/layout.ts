/** A part of a collection's rows that stands together: a group, or all of them. */
export interface Section {
  keys: unknown[]
  label?: string
  count: number
  totals: (number | null)[]
}

/** Something that is drawn at a height: the head of a section, or some of its rows. */
export interface Block {
  id: string
  head: boolean
  section: number
  /** The first of its rows within the section. */
  skip: number
  /** The first of its rows among all. */
  first: number
  rows: number
  top: number
  height: number
}

export const ROW = 35
export const PAGE = 25

/** Heads and pages of all sections from above to below. Linear in the pages, so that 100,000 rows are 4,000 blocks. */
export function blocksOf(sections: readonly Section[], folded: ReadonlySet<string>): Block[] {
  const blocks: Block[] = []
  let top = 0
  let first = 0
  sections.forEach((section, n) => {
    const id = JSON.stringify(section.keys)
    if (section.label !== undefined) {
      blocks.push({ id: `${id} head`, head: true, section: n, skip: 0, first, rows: 0, top, height: ROW })
      top += ROW
    }
    if (folded.has(id)) return
    for (let skip = 0; skip < section.count; skip += PAGE) {
      const rows = Math.min(PAGE, section.count - skip)
      blocks.push({ id: `${id} ${skip}`, head: false, section: n, skip, first, rows, top, height: rows * ROW })
      top += rows * ROW
      first += rows
    }
  })
  return blocks
}

/** The blocks that can be seen, and a little more above and below. */
export function visible(blocks: readonly Block[], from: number, height: number): Block[] {
  const margin = height / 2
  return blocks.filter((block) => block.top + block.height > from - margin && block.top < from + height + margin)
}

export const rowsIn = (blocks: readonly Block[]) => blocks.reduce((sum, block) => sum + block.rows, 0)

/** Where a row stands, by its number among all. */
export function topOf(blocks: readonly Block[], row: number): number {
  const block = blocks.find((one) => !one.head && row >= one.first && row < one.first + one.rows)
  return block ? block.top + (row - block.first) * ROW : 0
}

/** Rows of one section that stand one after the other: what one question can be asked for. */
export interface Stretch {
  section: number
  skip: number
  rows: number
}

/** The rows from – to, by their numbers among all, as stretches of at most so many. */
export function stretchesOf(blocks: readonly Block[], from: number, to: number, most: number): Stretch[] {
  const found: Stretch[] = []
  for (const block of blocks) {
    const [first, last] = [Math.max(from, block.first), Math.min(to, block.first + block.rows - 1)]
    if (block.head || first > last) continue
    const rows = last - first + 1
    const before = found.at(-1)
    if (before?.section === block.section && before.rows + rows <= most) before.rows += rows
    else found.push({ section: block.section, skip: block.skip + first - block.first, rows })
  }
  return found
}
