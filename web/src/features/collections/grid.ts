import { computed, nextTick, ref, shallowReactive, type ComputedRef, type Ref } from 'vue'
import { api, value } from '@/api/client'
import type { FieldDef, RowView } from '@/api/collections'
import { useSave } from '@/api/save'
import { useCollection } from './context'
import { fromBlock, plainText, toBlock } from './text'

export interface Column {
  field: FieldDef
  width: number
  pinned: boolean
  /** How far from the left edge a pinned column stays. */
  left: number
}

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
) {
  const { collection, product, team, set, setAll } = useCollection()
  const { save } = useSave()
  const active = ref<Cell>({ row: 0, column: 0 })
  const end: Ref<Cell | undefined> = ref()
  const editing = ref<{ start?: string }>()
  const loaded = shallowReactive(new Map<number, RowView>())
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
    end.value = undefined
    void focus()
  }

  function extend(row: number, column: number) {
    end.value = within({ row, column })
    seeRow(end.value.row)
  }

  function edit(start?: string) {
    const field = columns.value[active.value.column]?.field
    const row = loaded.get(active.value.row)
    if (!field || !row) return
    if (!field.editable) {
      said.value = field.governed ?? `${field.label} is computed.`
      return
    }
    if (field.type === 'yes_no') return void set(row, field.name, !row.values[field.name])
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

  function copy(event: ClipboardEvent) {
    if (editing.value) return
    const lines: string[][] = []
    for (let row = range.value.rows[0]; row <= range.value.rows[1]; row++) {
      const there = loaded.get(row)
      if (there) lines.push(fieldsInRange().map((field) => plainText(field, there.values[field.name], team.value)))
    }
    event.clipboardData?.setData('text/plain', toBlock(lines))
    event.preventDefault()
    said.value = `Copied ${lines.length} × ${fieldsInRange().length} cells`
  }

  async function paste(event: ClipboardEvent) {
    if (editing.value) return
    event.preventDefault()
    const block = fromBlock(event.clipboardData?.getData('text/plain') ?? '')
    const width = Math.max(...block.map((line) => line.length))
    const first = { row: range.value.rows[0], column: range.value.columns[0] }
    const fields = columns.value.slice(first.column, first.column + width).map((column) => column.field.name)
    const lines = block.slice(0, count.value - first.row)
    const rows = lines.map((_, n) => loaded.get(first.row + n))
    const known = rows.filter((row) => row !== undefined)
    if (fields.length < width || known.length < block.length) {
      said.value = `The block has ${block.length} lines of ${width} cells and does not fit from here on. Nothing was changed.`
      return
    }
    const body = {
      product: product.value,
      rows: known.map((row) => ({ id: row.id, rev: row.rev })),
      fields,
      cells: lines.map((line) => Array.from({ length: width }, (_, n) => line[n] ?? '')),
    }
    const path = { collection: collection.value }
    await save(value(api.POST('/api/v1/collections/{collection}/paste', { params: { path }, body })))
  }

  function clear() {
    const fields = fieldsInRange().filter((field) => field.editable)
    const changes = []
    for (let row = range.value.rows[0]; row <= range.value.rows[1]; row++) {
      const there = loaded.get(row)
      if (there)
        changes.push({ id: there.id, rev: there.rev, set: Object.fromEntries(fields.map((one) => [one.name, null])) })
    }
    if (fields.length) void setAll(changes)
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
      const row = loaded.get(active.value.row)
      if (row) choose(row)
    } else if (event.key === 'Delete' || event.key === 'Backspace') clear()
    else if (event.key === 'Escape') end.value = undefined
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
    loaded,
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
