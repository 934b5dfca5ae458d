<script setup lang="ts">
import { computed } from 'vue'
import { titleField, type RowView } from '@/api/collections'
import CellValue from './CellValue.vue'
import { useCollection } from './context'
import { fieldOf } from './model'
import { textOf } from './text'

/** The fields of a row that a card or a line shows below its title; empty ones are left out. */
const props = defineProps<{ row: RowView }>()
const { collection, definition, fields, team } = useCollection()
const parts = computed(() =>
  (definition.value.fields ?? []).flatMap(({ name }) => {
    const field = fieldOf(fields.value, name)
    const isTitle = [titleField(collection.value), 'reference'].includes(name)
    if (!field || field.retired || isTitle || textOf(field, props.row.values[name], team.value) === '') return []
    return [field]
  }),
)
</script>

<template>
  <dl v-if="parts.length" class="small quiet">
    <div v-for="field in parts" :key="field.name">
      <dt :class="{ 'visually-hidden': field.name === 'state' }">{{ field.label }}</dt>
      <dd><CellValue :field="field" :value="row.values[field.name]" /></dd>
    </div>
  </dl>
</template>

<style scoped>
dl {
  display: flex;
  flex-wrap: wrap;
  gap: 0 12px;
  margin: 2px 0 0;
}
dl > div {
  display: flex;
  gap: 5px;
  min-width: 0;
}
dt {
  font-weight: 400;
  opacity: 1;
}
dd {
  color: var(--ink);
  margin: 0;
  max-width: 260px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
