<script setup lang="ts">
import { computed, ref } from 'vue'
import { useGroups, type RowView } from '@/api/collections'
import CardColumn from './CardColumn.vue'
import { useCollection } from './context'
import { fieldOf } from './model'
import { figure } from '@/shared/words'

/** Cards in columns by the value of a field, with a second field as rows. Dragging a card changes the field. */
const { ask, definition, fields, setMany, state } = useCollection()
const group = computed(() => definition.value.group ?? [])
const across = computed(() => fieldOf(fields.value, group.value[0]?.field))
const down = computed(() => fieldOf(fields.value, group.value[1]?.field))
const { data, error, isPending } = useGroups(
  () => ask(),
  () => group.value.length > 0,
)

interface Key {
  key: unknown
  label: string
}
const same = (a: unknown, b: unknown) => JSON.stringify(a ?? null) === JSON.stringify(b ?? null)

/** All keys of a field: those that things have, and the choices that nothing has yet. */
function keysOf(at: number): Key[] {
  const field = at === 0 ? across.value : down.value
  const there: Key[] = []
  for (const one of data.value?.groups ?? []) {
    const key = one.keys[at]
    if (key && !there.some((other) => same(other.key, key.key))) there.push({ key: key.key ?? null, label: key.label })
  }
  if (field && 'choices' in field) {
    const offered = field.choices.filter((one) => !one.retired || there.some((other) => same(other.key, one.key)))
    const rest = there.filter((one) => !offered.some((choice) => choice.key === one.key))
    return [...offered.map((one) => ({ key: one.key, label: one.label })), ...rest]
  }
  return there
}
const columns = computed(() => keysOf(0))
const lanes = computed<(Key | undefined)[]>(() => (down.value ? keysOf(1) : [undefined]))

const cellOf = (column: Key, lane: Key | undefined) =>
  data.value?.groups.find(
    (one) => same(one.keys[0]?.key, column.key) && (lane === undefined || same(one.keys[1]?.key, lane.key)),
  )
const inColumn = (column: Key) => (data.value?.groups ?? []).filter((one) => same(one.keys[0]?.key, column.key))
const countOf = (column: Key) => inColumn(column).reduce((sum, one) => sum + one.count, 0)
const totals = computed(() => definition.value.totals ?? [])
const sumOf = (column: Key) =>
  totals.value
    .map((one, n) => ({ one, n }))
    .filter(({ one }) => one.measure === 'sum' || one.measure === 'count')
    .map(({ one, n }) => {
      const sum = inColumn(column).reduce((all, cell) => all + (cell.totals[n] ?? 0), 0)
      return `${figure(sum)} ${fieldOf(fields.value, one.field)?.label.toLowerCase() ?? ''}`
    })
    .join(' · ')

/** Heads and lanes share their columns. */
const grid = computed(() => ({
  gridTemplateColumns: `${down.value ? '96px ' : ''}repeat(${columns.value.length}, minmax(200px, 300px))`,
  minWidth: `${columns.value.length * 210 + (down.value ? 106 : 0)}px`,
}))

const limitOf = (column: Key) => definition.value.limits?.[JSON.stringify(column.key)]
function setLimit(column: Key, text: string) {
  const limits = { ...definition.value.limits }
  if (Number(text) > 0) limits[JSON.stringify(column.key)] = Math.round(Number(text))
  else delete limits[JSON.stringify(column.key)]
  state.change({ limits })
}

/** Why a card cannot be moved along a field; nothing where it can. */
function fixed(field: typeof across.value) {
  if (!field) return undefined
  if (field.governed) return field.governed
  if (!field.editable) return `${field.label} is computed.`
  const simple = ['choice', 'member', 'yes_no', 'link', 'text', 'number', 'money'].includes(field.type)
  if (!simple || (field.type === 'link' && field.many))
    return `A card can stand in several columns of ${field.label.toLowerCase()}.`
  return undefined
}
const why = computed(() => fixed(across.value) ?? fixed(down.value))
const held = ref<{ row: RowView; column: number; lane: number }>()
const saying = ref('')

async function place(row: RowView, column: number, lane: number) {
  if (why.value) return
  const to: Record<string, unknown> = {}
  for (const [field, key] of [
    [across.value, columns.value[column]] as const,
    [down.value, lanes.value[lane]] as const,
  ]) {
    if (field && key && !same(keyIn(row, field), key.key)) to[field.name] = key.key
  }
  if (Object.keys(to).length) await setMany(row, to)
}

function keyIn(row: RowView, field: NonNullable<typeof across.value>) {
  const value = row.values[field.name]
  if (field.type === 'link') return (value as { id: number }[] | null)?.[0]?.id ?? null
  if (field.type === 'yes_no') return Boolean(value)
  return value ?? null
}

function onKey(event: KeyboardEvent, row: RowView, column: number, lane: number) {
  const mine = held.value?.row.id === row.id
  if (event.key === ' ') {
    event.preventDefault()
    if (mine && held.value) {
      const { column, lane } = held.value
      held.value = undefined
      saying.value = `Put down ${row.reference} in ${columns.value[column]?.label}`
      void place(row, column, lane).then(() =>
        setTimeout(() => document.getElementById(`card-${row.id}`)?.focus(), 120),
      )
    } else if (why.value) saying.value = why.value
    else {
      held.value = { row, column, lane }
      saying.value = `Picked up ${row.reference}. Arrows choose the column, Space puts it down, Escape leaves it.`
    }
  } else if (mine && event.key === 'Escape') {
    held.value = undefined
    saying.value = `Left ${row.reference} where it was`
  } else if (mine && held.value && event.key.startsWith('Arrow')) {
    event.preventDefault()
    const step = event.key === 'ArrowRight' || event.key === 'ArrowDown' ? 1 : -1
    const sideways = event.key === 'ArrowRight' || event.key === 'ArrowLeft'
    const clamp = (at: number, length: number) => Math.max(0, Math.min(length - 1, at))
    const next = sideways
      ? { ...held.value, column: clamp(held.value.column + step, columns.value.length) }
      : { ...held.value, lane: clamp(held.value.lane + step, lanes.value.length) }
    held.value = next
    saying.value = `${columns.value[next.column]?.label}${lanes.value[next.lane] ? `, ${lanes.value[next.lane]?.label}` : ''}`
  }
}
</script>

<template>
  <div class="board" :aria-busy="isPending" data-board>
    <p v-if="group.length === 0" class="quiet none">
      Choose a field to group by in the line above: each of its values becomes a column.
    </p>
    <p v-else-if="error" class="none" role="alert">{{ error.message }}</p>
    <template v-else>
      <p v-if="why" class="small quiet why">Cards stay where they are: {{ why }}</p>
      <div class="heads" :style="grid">
        <div v-if="down" class="corner small quiet">{{ down.label }}</div>
        <header v-for="column in columns" :key="JSON.stringify(column.key)" :data-column-title="column.label">
          <h2>{{ column.label }}</h2>
          <div class="small quiet">
            {{ countOf(column) }}<template v-if="sumOf(column)"> · {{ sumOf(column) }}</template> · at most
            <input
              class="limit"
              type="number"
              min="1"
              :aria-label="`At most so many in ${column.label}`"
              :value="limitOf(column)"
              placeholder="any"
              @change="setLimit(column, ($event.target as HTMLInputElement).value)"
            />
          </div>
          <div v-if="limitOf(column) && countOf(column) > (limitOf(column) ?? 0)" class="hatch small over">
            <b>{{ countOf(column) - (limitOf(column) ?? 0) }} over the limit</b>
          </div>
        </header>
      </div>
      <div v-for="(lane, n) in lanes" :key="JSON.stringify(lane?.key ?? null)" class="lane" :style="grid">
        <div v-if="lane" class="corner">
          <b>{{ lane.label }}</b>
        </div>
        <CardColumn
          v-for="(column, at) in columns"
          :key="JSON.stringify(column.key)"
          :within="lane ? [column.key, lane.key] : [column.key]"
          :count="cellOf(column, lane)?.count ?? 0"
          :at="[at, n]"
          :label="lane ? `${column.label}, ${lane.label}` : column.label"
          :held="held && held.column === at && held.lane === n ? held.row : undefined"
          :picked="held?.row.id"
          :fixed="why !== undefined"
          @place="(row, to) => place(row, to[0], to[1])"
          @key="(event, row) => onKey(event, row, at, n)"
        />
      </div>
    </template>
    <div class="visually-hidden" role="status">{{ saying }}</div>
  </div>
</template>

<style scoped>
.board {
  flex: 1;
  min-height: 0;
  overflow: auto;
  padding: 0 16px 16px;
}
.heads,
.lane {
  display: grid;
  gap: 10px;
}
.heads {
  background: var(--paper);
  padding-top: 10px;
  position: sticky;
  top: 0;
  z-index: 4;
}
header {
  border-bottom: 2px solid var(--ink);
  padding-bottom: 4px;
}
h2 {
  font-size: 15px;
  margin: 0;
  overflow-wrap: anywhere;
}
.limit {
  background: transparent;
  border: 1px solid transparent;
  border-radius: 3px;
  color: inherit;
  font-size: 13px;
  padding: 0 2px;
  width: 46px;
}
.limit:hover,
.limit:focus {
  border-color: var(--field);
}
.limit::placeholder {
  color: var(--quiet);
  opacity: 1;
}
.over {
  border: 1px solid var(--ink);
  display: inline-block;
  margin-top: 3px;
  padding: 0 6px;
}
.lane {
  border-bottom: 1px solid var(--quiet);
  min-height: 76px;
}
.lane:last-of-type {
  border-bottom: 0;
}
.corner {
  overflow-wrap: anywhere;
  padding-top: 10px;
}
.why,
.none {
  margin: 0;
  padding-top: 8px;
}
</style>
