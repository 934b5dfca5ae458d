<script setup lang="ts">
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import { useRows, type FieldDef, type RowView } from '@/api/collections'
import { useSelection } from '@/shared/selection'
import CellEditor from './CellEditor.vue'
import CellValue from './CellValue.vue'
import { useCollection } from './context'
import type { Block } from './layout'
import type { Column, Grid } from './grid'

/** Some rows of a table, asked for when they come into view. */
const props = defineProps<{
  block: Block
  within: readonly unknown[]
  columns: readonly Column[]
  grid: Grid
}>()
const { ask, collection, set } = useCollection()
const { select, isSelected } = useSelection()
const { data } = useRows(() => ask([], { within: props.within, skip: props.block.skip, limit: props.block.rows }))
const rows = computed<readonly (RowView | undefined)[]>(() =>
  Array.from({ length: props.block.rows }, (_, n) => data.value?.rows[n]),
)
watch([rows, () => props.block.first], ([rows, first]) => props.grid.show(props.block.id, { first, rows }), {
  immediate: true,
})

const root = ref<HTMLElement>()
onBeforeUnmount(() => {
  props.grid.pages.delete(props.block.id)
  // What has left the screen cannot have the keyboard; the table keeps it.
  if (root.value?.contains(document.activeElement))
    root.value.closest<HTMLElement>('[role=grid]')?.focus({ preventScroll: true })
})

const isNumber = (field: FieldDef) => field.shape === 'number'
const isEditing = (row: number, column: number) =>
  props.grid.editing.value !== undefined && props.grid.isActive(row, column)

function press(event: MouseEvent, row: number, column: number) {
  if (event.shiftKey) props.grid.extend(row, column)
  else props.grid.go(row, column)
}

function twice(row: RowView, at: number, column: number) {
  const field = props.columns[column]?.field
  if (field?.type === 'yes_no' && field.editable) return void set(row, field.name, !row.values[field.name])
  props.grid.go(at, column)
  props.grid.edit()
}
</script>

<template>
  <div ref="root" class="page" role="rowgroup" :style="{ top: `${block.top}px` }">
    <div
      v-for="(row, n) in rows"
      :key="row?.id ?? `empty ${n}`"
      class="row"
      role="row"
      tabindex="-1"
      :aria-rowindex="block.first + n + 2"
      :class="{ selected: row && isSelected(collection, row.id), chosen: row && grid.chosen.has(row.id) }"
      :data-row="row?.id"
      @click="row && select(collection, row.id)"
      @focusin="row && select(collection, row.id)"
    >
      <template v-if="row">
        <div class="cell tick" role="gridcell" tabindex="-1">
          <input
            type="checkbox"
            :checked="grid.chosen.has(row.id)"
            :aria-label="`Choose ${row.reference} ${row.title}`"
            tabindex="-1"
            @click.stop="grid.choose(row)"
          />
        </div>
        <!-- eslint-disable-next-line vuejs-accessibility/interactive-supports-focus -- one cell of the grid can be reached -->
        <div
          v-for="(column, at) in columns"
          :id="`cell-${block.first + n}-${at}`"
          :key="column.field.name"
          class="cell"
          role="gridcell"
          :tabindex="grid.isActive(block.first + n, at) ? 0 : -1"
          :aria-colindex="at + 1"
          :aria-readonly="!column.field.editable"
          :class="{
            number: isNumber(column.field),
            pinned: column.pinned,
            active: grid.isActive(block.first + n, at),
            range: grid.inRange(block.first + n, at),
            open: isEditing(block.first + n, at),
          }"
          :style="{ width: `${column.width}px`, left: column.pinned ? `${column.left}px` : undefined }"
          :data-field="column.field.name"
          @mousedown="press($event, block.first + n, at)"
          @dblclick="twice(row, block.first + n, at)"
        >
          <CellEditor
            v-if="isEditing(block.first + n, at)"
            :field="column.field"
            :row="row"
            :start="grid.editing.value?.start"
            @done="grid.done"
          />
          <span v-else class="inside"><CellValue :field="column.field" :value="row.values[column.field.name]" /></span>
        </div>
      </template>
      <!-- A row that is on its way says so. -->
      <div v-else role="gridcell" tabindex="-1" aria-busy="true"><span class="visually-hidden">on its way</span></div>
    </div>
  </div>
</template>

<style scoped>
.page {
  left: 0;
  position: absolute;
}
.row {
  border-bottom: 1px solid var(--rule);
  display: flex;
  height: 35px;
  min-width: 100%;
}
.row.selected .cell {
  background: var(--panel);
}
.cell {
  background: var(--paper);
  border-right: 1px solid var(--rule);
  cursor: default;
  flex: none;
  line-height: 34px;
  padding: 0 9px;
  position: relative;
}
.inside {
  display: block;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.tick {
  left: 0;
  padding: 0 8px;
  position: sticky;
  width: 36px;
  z-index: 3;
}
.tick input {
  height: 17px;
  vertical-align: middle;
  width: 17px;
}
.pinned {
  position: sticky;
  z-index: 3;
}
.number .inside {
  font-variant-numeric: tabular-nums;
}
.range {
  background: color-mix(in srgb, var(--ink) 9%, var(--paper));
}
.active {
  outline: 2px solid var(--ink);
  outline-offset: -2px;
}
.open {
  z-index: 7;
}
</style>
