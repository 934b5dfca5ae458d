import { deepEqual, equal, match } from 'node:assert/strict'
import { test } from 'node:test'
import { computed, ref } from 'vue'
import type { FieldDef, RowView } from '@/api/collections'
import { line } from '@/api/save'
import { provideCollection } from '@/features/collections/context'
import { useGrid } from '@/features/collections/grid'
import { answer, answering, problem, type Asked } from './server'
import { within } from './within'

const FIELDS = [
  { name: 'title', label: 'Title', type: 'text', shape: 'text', editable: true },
  { name: 'effort', label: 'Effort', type: 'number', shape: 'number', editable: true },
  { name: 'ready', label: 'Ready', type: 'yes_no', shape: 'yes', editable: true },
  { name: 'score', label: 'Score', type: 'number', shape: 'number', editable: false },
  {
    name: 'state',
    label: 'State',
    type: 'choice',
    shape: 'choice',
    editable: false,
    governed: 'A step says so.',
    choices: [],
  },
] as unknown as FieldDef[]

const rowOf = (n: number): RowView =>
  ({
    id: 100 + n,
    rev: 1,
    reference: `I${n}`,
    title: `Idea ${n}`,
    values: { title: `Idea ${n}`, effort: n, ready: false },
  }) as never

/** A table of so many rows, of which the first `shown` are on the screen. */
async function table(count: number, shown = count, gone?: 'all' | 'one') {
  globalThis.document = { getElementById: () => null } as never
  const asked: [number, number][] = []
  const fetchRange = (from: number, to: number) => {
    asked.push([from, to])
    const rows = Array.from({ length: to - from + 1 }, (_, n) => rowOf(from + n))
    return Promise.resolve(gone === 'all' ? undefined : gone === 'one' ? rows.slice(1) : rows)
  }
  const columns = computed(() => FIELDS.map((field) => ({ field, width: 100, pinned: false, left: 0 })))
  const around = () =>
    void provideCollection({
      collection: computed(() => 'idea' as const),
      product: computed(() => 1),
      fields: computed(() => FIELDS),
      team: computed(() => []),
      definition: computed(() => ({ kind: 'table' as const })),
      state: { queryFor: () => ({}) } as never,
    })
  const size = ref(count)
  const setup = () =>
    useGrid(
      columns,
      computed(() => size.value),
      () => {},
      () => 10,
      fetchRange,
    )
  const { it: grid } = await within('/', setup, around)
  grid.show('first', { first: 0, rows: Array.from({ length: shown }, (_, n) => rowOf(n)) })
  const press = (key: string, more: object = {}) => {
    let kept = false
    grid.onKey({ key, preventDefault: () => (kept = true), ...more } as unknown as KeyboardEvent)
    return kept
  }
  return { grid, press, asked }
}

const clipboard = (text = '') => {
  const held = { text }
  const clipboardData = { setData: (_: string, text: string) => (held.text = text), getData: () => held.text }
  return { held, event: { clipboardData, preventDefault: () => {} } as unknown as ClipboardEvent }
}
const saved = { change: 5, label: 'changed', thing: null, rev: null }
/** Lets everything that was begun come to its end. */
const settled = () => new Promise((resolve) => setTimeout(resolve, 20))
const written = (asked: readonly Asked[]) => asked.filter((one) => one.method === 'POST')

test('arrows go from cell to cell and stay within the table', async () => {
  const { grid, press } = await table(30)
  const at = () => [grid.active.value.row, grid.active.value.column]
  const steps: [string, object, number[]][] = [
    ['ArrowUp', {}, [0, 0]],
    ['ArrowDown', {}, [1, 0]],
    ['ArrowRight', {}, [1, 1]],
    ['End', {}, [1, 4]],
    ['ArrowRight', {}, [1, 4]],
    ['PageDown', {}, [11, 4]],
    ['Home', {}, [11, 0]],
    ['End', { ctrlKey: true }, [29, 4]],
    ['PageDown', {}, [29, 4]],
    ['PageUp', {}, [19, 4]],
    ['Home', { ctrlKey: true }, [0, 0]],
  ]
  for (const [key, more, wanted] of steps) {
    equal(press(key, more), true)
    deepEqual(at(), wanted, key)
  }
})

test('Shift marks cells from where the keyboard is, in any direction', async () => {
  const { grid, press } = await table(10)
  grid.go(4, 2)
  press('ArrowUp', { shiftKey: true })
  press('ArrowLeft', { shiftKey: true })
  equal(grid.isActive(4, 2), true)
  equal(grid.said.value, 'Marked 2 × 2 cells')
  deepEqual(
    [grid.inRange(3, 1), grid.inRange(4, 2), grid.inRange(4, 1), grid.inRange(5, 2), grid.inRange(3, 0)],
    [true, true, true, false, false],
  )
  press('Escape')
  deepEqual([grid.inRange(4, 2), grid.said.value], [false, ''])
})

test('a letter begins to edit, but those that are keys of the window do not', async () => {
  const { grid, press } = await table(3)
  for (const key of ['.', '/', '?']) equal(press(key), false)
  for (const more of [{ ctrlKey: true }, { altKey: true }, { metaKey: true }]) equal(press('z', more), false)
  equal(grid.editing.value, undefined)
  equal(press('L'), true)
  deepEqual(grid.editing.value, { start: 'L' })
  // What is typed then goes into the cell.
  equal(press('ArrowDown'), false)
  grid.done('down')
  deepEqual([grid.editing.value, grid.active.value], [undefined, { row: 1, column: 0 }])
  grid.edit()
  grid.done('right')
  deepEqual(grid.active.value, { row: 1, column: 1 })
})

test('what cannot be edited says why', async () => {
  const { grid } = await table(3)
  grid.go(0, 3)
  grid.edit()
  deepEqual([grid.editing.value, grid.said.value], [undefined, 'Score is computed.'])
  grid.go(0, 4)
  grid.edit()
  equal(grid.said.value, 'A step says so.')
})

test('Enter on a yes or no turns it', async () => {
  const { grid, press } = await table(3)
  const asked = answering(() => answer(saved))
  grid.go(1, 2)
  press('Enter')
  await settled()
  deepEqual(asked[0]?.body, { rev: 1, set: { ready: true } })
  equal(grid.editing.value, undefined)
})

test('marked cells on the screen are copied as they can be pasted', async () => {
  const { grid, asked } = await table(3)
  grid.go(0, 0)
  grid.extend(1, 1)
  const { held, event } = clipboard()
  await grid.copy(event)
  equal(held.text, 'Idea 0\t0\nIdea 1\t1\n')
  equal(grid.said.value, 'Copied 2 × 2 cells')
  deepEqual(asked, [])
})

test('marked rows that were never seen are copied as well', async () => {
  const { grid, asked } = await table(120, 50)
  Object.defineProperty(globalThis, 'navigator', {
    configurable: true,
    value: { clipboard: { writeText: (text: string) => void (copied = text) } },
  })
  let copied = ''
  grid.go(0, 0)
  grid.extend(119, 0)
  await grid.copy(clipboard().event)
  deepEqual(asked, [[0, 119]])
  equal(copied.split('\n').length, 121)
  equal(grid.said.value, 'Copied 120 × 1 cells')
})

test('where the browser does not let them be copied it is said', async () => {
  const { grid } = await table(120, 50)
  Object.defineProperty(globalThis, 'navigator', { configurable: true, value: {} })
  grid.extend(119, 0)
  await grid.copy(clipboard().event)
  match(grid.said.value, /^This browser lets only what is on the screen be copied, and 120 rows are marked\./)
})

test('emptying marked cells reaches rows that were never seen, but no cell that is computed', async () => {
  const { grid, press, asked } = await table(120, 50)
  const sent = answering(() => answer(saved))
  grid.go(0, 1)
  grid.extend(119, 4)
  press('Delete')
  await settled()
  deepEqual(asked, [[0, 119]])
  const [write] = written(sent)
  equal(write?.path, '/api/v1/collections/idea/cells')
  const { changes } = write?.body as { changes: { id: number; rev: number; set: object }[] }
  equal(changes.length, 120)
  deepEqual(changes[119], { id: 219, rev: 1, set: { effort: null, ready: null } })
})

test('nothing is emptied where some of the rows do not come, or too many are marked', async () => {
  const sent = answering(() => answer(saved))
  const lost = await table(120, 50, 'all')
  lost.grid.extend(119, 0)
  lost.press('Delete')
  await settled()
  const fewer = await table(120, 50, 'one')
  fewer.grid.extend(119, 0)
  fewer.press('Delete')
  await settled()
  match(fewer.grid.said.value, /^Some of these rows are not there any more\. Nothing was changed/)
  const large = await table(5_000, 50)
  large.grid.extend(4_999, 0)
  large.press('Delete')
  await settled()
  deepEqual([written(sent).length, large.asked.length], [0, 0])
  equal(
    large.grid.said.value,
    '5,000 rows are more than can be taken at once; mark at most 2,000. Nothing was changed.',
  )
})

test('a block is pasted from the first marked cell on, each row with its version', async () => {
  const { grid } = await table(4)
  const sent = answering(() => answer(saved))
  grid.go(2, 1)
  grid.extend(1, 0)
  await grid.paste(clipboard('New\t3\r\n"two\nlines"\r\n').event)
  const [write] = written(sent)
  equal(write?.path, '/api/v1/collections/idea/paste')
  deepEqual(write?.body, {
    product: 1,
    rows: [
      { id: 101, rev: 1 },
      { id: 102, rev: 1 },
    ],
    fields: ['title', 'effort'],
    cells: [
      ['New', '3'],
      ['two\nlines', ''],
    ],
  })
})

test('a block that does not fit changes nothing', async () => {
  const sent = answering(() => answer(saved))
  const { grid } = await table(4)
  grid.go(3, 0)
  await grid.paste(clipboard('one\ntwo').event)
  match(grid.said.value, /^The block has 2 lines of 1 cells and does not fit/)
  grid.go(0, 4)
  await grid.paste(clipboard('one\ttwo').event)
  match(grid.said.value, /^The block has 1 lines of 2 cells and does not fit/)
  equal(written(sent).length, 0)
})

test('a problem with pasting is told where problems are told', async () => {
  const { grid } = await table(4)
  answering(() => problem('invalid', 422))
  await grid.paste(clipboard('x').event)
  equal(line.problem?.code, 'invalid')
})

test('Space chooses a row and lets it go, and what is chosen is changed as it is now', async () => {
  const { grid, press } = await table(3)
  press(' ')
  press('ArrowDown')
  press(' ')
  deepEqual([...grid.chosen.keys()], [100, 101])
  press(' ')
  deepEqual([...grid.chosen.keys()], [100])
  grid.show('first', { first: 0, rows: [{ ...rowOf(0), rev: 8 }, rowOf(1)] })
  equal(grid.chosen.get(100)?.rev, 8)
  equal(grid.chosen.has(101), false)
})

test('what has left the screen is no longer known by its place, and is not edited unseen', async () => {
  const { grid, press } = await table(60, 50)
  equal(grid.rowAt(7)?.id, 107)
  grid.pages.delete('first')
  equal(grid.rowAt(7), undefined)
  press('L')
  equal(grid.editing.value, undefined)
})
