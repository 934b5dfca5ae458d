<script setup lang="ts">
import { nextTick, ref } from 'vue'
import type { FieldDef, RowView } from '@/api/collections'
import CellEditor from './CellEditor.vue'
import CellValue from './CellValue.vue'
import { useCollection } from './context'
import { textOf } from './text'

/** One field of an open thing: its value, which is edited in place. */
const props = defineProps<{ field: FieldDef; row: RowView }>()
const { set, team } = useCollection()
const editing = ref(false)
const button = ref<HTMLButtonElement>()

function edit() {
  if (props.field.type === 'yes_no') return void set(props.row, props.field.name, !props.row.values[props.field.name])
  editing.value = props.field.editable
}

async function done() {
  editing.value = false
  await nextTick()
  button.value?.focus()
}
</script>

<template>
  <dt class="small quiet">{{ field.label }}</dt>
  <dd :data-field="field.name" :class="{ long: field.type === 'long_text' }">
    <CellEditor v-if="editing" :field="field" :row="row" @done="done" />
    <button
      v-else
      ref="button"
      type="button"
      class="value"
      :disabled="!field.editable"
      :aria-label="`${field.label} of ${row.reference || row.title}: ${textOf(field, row.values[field.name], team) || 'empty'}`"
      @click="edit"
    >
      <CellValue :field="field" :value="row.values[field.name]" /><span
        v-if="textOf(field, row.values[field.name], team) === ''"
        class="quiet"
        >–</span
      >
    </button>
  </dd>
</template>

<style scoped>
dt {
  font-weight: 400;
  padding: 5px 10px 0 0;
}
dd {
  margin: 0;
  min-height: 28px;
  position: relative;
}
.value {
  background: transparent;
  border: 1px solid transparent;
  border-radius: 4px;
  color: inherit;
  min-height: 28px;
  overflow-wrap: anywhere;
  padding: 2px 6px;
  text-align: left;
  width: 100%;
}
.value:hover:not(:disabled) {
  border-color: var(--field);
}
.value:disabled {
  color: inherit;
}
.long .value {
  white-space: pre-wrap;
}
</style>
