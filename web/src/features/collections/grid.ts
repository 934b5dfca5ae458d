import { computed, nextTick, ref, shallowReactive, type ComputedRef, type Ref } from 'vue'
import { api, value } from '@/api/client'
import type { FieldDef, RowView } from '@/api/collections'
import { useSave } from '@/api/save'
import { count as words, whole } from '@/shared/words'
import { useCollection } from './context'
import { fromBlock, plainText, toBlock } from './text'

export interface Column {
  field: FieldDef
  width: number
  pinned: boolean
  /** How far from the left edge a pinned column stays. */
  left: number
}

/** Rows that are on the screen, from the first of them on. */
export interface Page {
  first: number
  rows: readonly (RowView | undefined)[]
}

/** So many rows are asked for to be changed; the server refuses more. */
const MOST = 2_000

interface Cell {
  row: number
  column: number
}

/** The cell with the keyboard, the cells that are marked, the rows that are chosen, and what keys do with them. */
export function useGrid(
  columns: ComputedRef<readonly Column[]>,
  count: ComputedRef<number>,
  seeRow: (row: number) => void,
  pageRows: () => number,
  /** Asks for rows that are not on the screen; nothing where there is no answer. */
  fetchRange: (from: number, to: number) => Promise<RowView[] | undefined>,
) {
  const { collection, product, team, set, setAll } = useCollection()
  const { save } = useSave()
  const active = ref<Cell>({ row: 0, column: 0 })
  const end: Ref<Cell | undefined> = ref()
  const editing = ref<{ start?: string }>()
  const pages = shallowReactive(new Map<string, Page>())
  const chosen = shallowReactive(new Map<number, RowView>())
  const said = ref('')

  const range = computed(() => {
    const other = end.value ?? active.value
    const { row, column } = active.value
    return {
      rows: [Math.min(row, other.row), Math.max(row, other.row)] as const,
      columns: [Math.min(column, other.column), Math.max(column, other.column)] as const,
    }
  })
  const isActive = (row: number, column: number) => active.value.row === row && active.value.column === column
  const inRange = (row: number, column: number) =>
    end.value !== undefined &&
    row >= range.value.rows[0] &&
    row <= range.value.rows[1] &&
    column >= range.value.columns[0] &&
    column <= range.value.columns[1]

  const cellsWords = () => {
    const { rows, columns } = range.value
    return `${whole(rows[1] - rows[0] + 1)} × ${columns[1] - columns[0] + 1} cells`
  }
  function leaveMarked() {
    if (end.value) said.value = ''
    end.value = undefined
  }

  /** A page as it is now. What is chosen on it is chosen as it is now, too, so that changing it goes on from there. */
  function show(id: string, page: Page) {
    pages.set(id, page)
    for (const row of page.rows) if (row && chosen.has(row.id)) chosen.set(row.id, row)
  }

  function rowAt(row: number): RowView | undefined {
    for (const { first, rows } of pages.values()) if (rows[row - first]) return rows[row - first]
    return undefined
  }

  /** The rows from – to where all of them are on the screen. */
  function seen(from: number, to: number): RowView[] | undefined {
    if (to - from >= MOST) return undefined
    const rows = Array.from({ length: to - from + 1 }, (_, n) => rowAt(from + n)).filter((row) => row !== undefined)
    return rows.length === to - from + 1 ? rows : undefined
  }

  /** The rows from – to, wherever they are; says why where there are none to work with. */
  async function rowsOf(from: number, to: number): Promise<RowView[] | undefined> {
    const here = seen(from, to)
    if (here) return here
    if (to - from >= MOST) {
      said.value = `${whole(to - from + 1)} rows are more than can be taken at once; mark at most ${whole(MOST)}. Nothing was changed.`
      return undefined
    }
    const found = await fetchRange(from, to)
    if (!found || found.length === to - from + 1) return found
    said.value = 'Some of these rows are not there any more. Nothing was changed; mark them again.'
    return undefined
  }

  async function focus() {
    seeRow(active.value.row)
    await nextTick()
    document.getElementById(`cell-${active.value.row}-${active.value.column}`)?.focus()
  }

  const within = (cell: Cell): Cell => ({
    row: Math.max(0, Math.min(count.value - 1, cell.row)),
    column: Math.max(0, Math.min(columns.value.length - 1, cell.column)),
  })

  function go(row: number, column: number) {
    if (!isActive(row, column)) editing.value = undefined
    active.value = within({ row, column })
    leaveMarked()
    void focus()
  }

  function extend(row: number, column: number) {
    end.value = within({ row, column })
    seeRow(end.value.row)
    said.value = `Marked ${cellsWords()}`
  }

  function edit(start?: string) {
    const field = columns.value[active.value.column]?.field
    const row = rowAt(active.value.row)
    // It has left the screen: it is shown before it is changed.
    if (!row) return void focus()
    if (!field) return
    if (!field.editable) {
      said.value = field.governed ?? `${field.label} is computed.`
      return
    }
    if (field.type === 'yes_no') return void set(row, field.name, !row.values[field.name])
    const isNumber = field.type === 'number' || field.type === 'money'
    if (start !== undefined && isNumber && !/[-−+.,\d]/.test(start)) {
      said.value = `${field.label} takes a number; it stays as it was.`
      return
    }
    editing.value = { start }
  }

  function done(move?: 'down' | 'right' | 'left') {
    editing.value = undefined
    const { row, column } = active.value
    if (move === 'down') go(row + 1, column)
    else if (move) go(row, column + (move === 'right' ? 1 : -1))
    else void focus()
  }

  function choose(row: RowView) {
    if (!chosen.delete(row.id)) chosen.set(row.id, row)
  }

  function fieldsInRange() {
    return columns.value.slice(range.value.columns[0], range.value.columns[1] + 1).map((column) => column.field)
  }

  const blockOf = (rows: readonly RowView[], fields: readonly FieldDef[]) =>
    toBlock(rows.map((row) => fields.map((field) => plainText(field, row.values[field.name], team.value))))

  async function copy(event: ClipboardEvent) {
    if (editing.value) return
    event.preventDefault()
    const [from, to] = range.value.rows
    const fields = fieldsInRange()
    const told = `Copied ${cellsWords()}`
    const here = seen(from, to)
    if (here) {
      event.clipboardData?.setData('text/plain', blockOf(here, fields))
      said.value = told
      return
    }
    const rows = await rowsOf(from, to)
    if (!rows) return
    try {
      await navigator.clipboard.writeText(blockOf(rows, fields))
      said.value = told
    } catch {
      said.value = `This browser lets only what is on the screen be copied, and ${words(to - from + 1, 'row is', 'rows are')} marked. Mark fewer, or take the view out as a file.`
    }
  }

  async function paste(event: ClipboardEvent) {
    if (editing.value) return
    event.preventDefault()
    const block = fromBlock(event.clipboardData?.getData('text/plain') ?? '')
    const width = Math.max(...block.map((line) => line.length))
    const first = { row: range.value.rows[0], column: range.value.columns[0] }
    const fields = columns.value.slice(first.column, first.column + width).map((column) => column.field.name)
    const last = first.row + block.length - 1
    if (fields.length < width || last >= count.value) {
      said.value = `The block has ${block.length} lines of ${width} cells and does not fit from here on. Nothing was changed.`
      return
    }
    const rows = await rowsOf(first.row, last)
    if (!rows) return
    const body = {
      product: product.value,
      rows: rows.map((row) => ({ id: row.id, rev: row.rev })),
      fields,
      cells: block.map((line) => Array.from({ length: width }, (_, n) => line[n] ?? '')),
    }
    const path = { collection: collection.value }
    await save(value(api.POST('/api/v1/collections/{collection}/paste', { params: { path }, body })))
  }

  async function clear() {
    const fields = fieldsInRange().filter((field) => field.editable)
    if (!fields.length) return
    const rows = await rowsOf(...range.value.rows)
    if (!rows) return
    const set = Object.fromEntries(fields.map((one) => [one.name, null]))
    await setAll(rows.map((row) => ({ id: row.id, rev: row.rev, set })))
  }

  const STEPS: Record<string, (cell: Cell, far: boolean) => Cell> = {
    ArrowUp: ({ row, column }) => ({ row: row - 1, column }),
    ArrowDown: ({ row, column }) => ({ row: row + 1, column }),
    ArrowLeft: ({ row, column }) => ({ row, column: column - 1 }),
    ArrowRight: ({ row, column }) => ({ row, column: column + 1 }),
    PageUp: ({ row, column }) => ({ row: row - pageRows(), column }),
    PageDown: ({ row, column }) => ({ row: row + pageRows(), column }),
    Home: ({ row }, far) => ({ row: far ? 0 : row, column: 0 }),
    End: ({ row }, far) => ({ row: far ? count.value - 1 : row, column: columns.value.length - 1 }),
  }

  function onKey(event: KeyboardEvent) {
    if (editing.value) return
    const step = STEPS[event.key]
    const from = event.shiftKey ? (end.value ?? active.value) : active.value
    if (step) {
      const to = step(from, event.ctrlKey || event.metaKey)
      if (event.shiftKey) extend(to.row, to.column)
      else go(to.row, to.column)
    } else if (event.key === 'Enter' || event.key === 'F2') edit()
    else if (event.key === ' ') {
      const row = rowAt(active.value.row)
      if (row) choose(row)
    } else if (event.key === 'Delete' || event.key === 'Backspace') void clear()
    else if (event.key === 'Escape') leaveMarked()
    else if (
      event.key.length === 1 &&
      !event.ctrlKey &&
      !event.metaKey &&
      !event.altKey &&
      event.key !== '.' &&
      event.key !== '/' &&
      event.key !== '?'
    ) {
      edit(event.key)
    } else return
    event.preventDefault()
  }

  return {
    active,
    editing,
    pages,
    show,
    rowAt,
    chosen,
    said,
    isActive,
    inRange,
    go,
    extend,
    edit,
    done,
    choose,
    copy,
    paste,
    onKey,
  }
}

export type Grid = ReturnType<typeof useGrid>
