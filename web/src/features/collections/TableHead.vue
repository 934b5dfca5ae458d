<script setup lang="ts">
import { ref } from 'vue'
import type { FieldDef } from '@/api/collections'
import { useCollection } from './context'
import { orderFields } from './model'
import type { Column } from './grid'

/**
 * The headings. A click orders by the field; the edge is drawn to resize, and with the keyboard Alt and the arrows
 * make it wider and narrower, Shift and Alt and the arrows move it.
 */
const props = defineProps<{ columns: readonly Column[]; isNumber: (field: FieldDef) => boolean }>()
const emit = defineEmits<{
  resize: [field: FieldDef, to: number]
  move: [field: FieldDef, before: string | undefined]
}>()
const { definition, fields, state } = useCollection()
const drawn = ref<{ name: string; width: number }>()
const dragged = ref<FieldDef>()

const by = (field: FieldDef) =>
  (definition.value.order ?? [])[0]?.field === field.name ? definition.value.order?.[0] : undefined
const sort = (field: FieldDef) => (by(field) ? (by(field)?.descending ? 'descending' : 'ascending') : 'none')

function order(field: FieldDef) {
  if (!orderFields(fields.value).some((one) => one.name === field.name)) return
  const present = by(field)
  if (present?.descending) return state.change({ order: (definition.value.order ?? []).slice(1) })
  const rest = (definition.value.order ?? []).filter((one) => one.field !== field.name)
  state.change({ order: [{ field: field.name, descending: present !== undefined }, ...rest].slice(0, 3) })
}

function draw(event: PointerEvent, column: Column) {
  event.preventDefault()
  const from = event.clientX
  const move = (to: PointerEvent) => {
    drawn.value = { name: column.field.name, width: Math.max(50, Math.min(800, column.width + to.clientX - from)) }
  }
  const up = () => {
    window.removeEventListener('pointermove', move)
    if (drawn.value) emit('resize', column.field, drawn.value.width)
    drawn.value = undefined
  }
  window.addEventListener('pointermove', move)
  window.addEventListener('pointerup', up, { once: true })
}

function onKey(event: KeyboardEvent, column: Column, at: number) {
  const way = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
  if (!event.altKey || way === 0) return
  event.preventDefault()
  event.stopPropagation()
  if (!event.shiftKey) return emit('resize', column.field, Math.max(50, Math.min(800, column.width + way * 20)))
  const before = way > 0 ? props.columns[at + 2] : props.columns[at - 1]
  if (way < 0 && at === 0) return
  emit('move', column.field, before?.field.name)
}

const widthOf = (column: Column) => (drawn.value?.name === column.field.name ? drawn.value.width : column.width)

function drop(before: Column) {
  if (dragged.value && dragged.value.name !== before.field.name) emit('move', dragged.value, before.field.name)
  dragged.value = undefined
}
</script>

<template>
  <div class="head" role="row" aria-rowindex="1">
    <div class="tick" role="columnheader" aria-label="Chosen"></div>
    <div
      v-for="(column, at) in columns"
      :key="column.field.name"
      class="heading"
      role="columnheader"
      tabindex="-1"
      :aria-sort="sort(column.field)"
      :class="{ pinned: column.pinned, number: isNumber(column.field) }"
      :style="{ width: `${widthOf(column)}px`, left: column.pinned ? `${column.left}px` : undefined }"
      draggable="true"
      @dragstart="dragged = column.field"
      @dragover.prevent
      @drop.prevent="drop(column)"
    >
      <button
        type="button"
        class="name"
        :title="column.field.label"
        aria-description="Orders by it. Alt and the arrows resize it, with Shift they move it."
        @click="order(column.field)"
        @keydown="onKey($event, column, at)"
      >
        {{ column.field.label
        }}{{ sort(column.field) === 'none' ? '' : sort(column.field) === 'ascending' ? ' ↑' : ' ↓' }}
      </button>
      <span class="edge" aria-hidden="true" @pointerdown="draw($event, column)" @dragstart.prevent.stop></span>
    </div>
  </div>
</template>

<style scoped>
.head {
  background: var(--paper);
  border-bottom: 1px solid var(--quiet);
  display: flex;
  min-width: max-content;
  position: sticky;
  top: 0;
  z-index: 6;
}
.tick {
  background: var(--paper);
  flex: none;
  left: 0;
  position: sticky;
  width: 36px;
  z-index: 4;
}
.heading {
  background: var(--paper);
  flex: none;
  position: relative;
}
.pinned {
  position: sticky;
  z-index: 4;
}
.name {
  background: transparent;
  border: 0;
  color: var(--quiet);
  font-size: 13px;
  font-weight: 600;
  overflow: hidden;
  padding: 7px 9px 6px;
  text-align: inherit;
  text-overflow: ellipsis;
  white-space: nowrap;
  width: 100%;
}
.name:focus-visible {
  outline-offset: -2px;
}
.edge {
  bottom: 0;
  cursor: col-resize;
  position: absolute;
  right: -4px;
  top: 0;
  width: 9px;
  z-index: 1;
}
</style>
