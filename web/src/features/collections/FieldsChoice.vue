<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, value } from '@/api/client'
import type { FieldDef } from '@/api/collections'
import { useSave } from '@/api/save'
import PopPanel from '@/shared/PopPanel.vue'
import { useCollection } from './context'
import FieldForm from './FieldForm.vue'
import { shown } from './model'

/** Which fields are shown, in which order, and the fields that the team adds. */
const { definition, fields, state } = useCollection()
const { save } = useSave()
const editing = ref<FieldDef | 'new'>()
const visible = computed(() => definition.value.fields ?? [])
const isVisible = (name: string) => visible.value.some((one) => one.name === name)
/** Those that are shown first, in their order. */
const all = computed(() => {
  const known = shown(fields.value)
  const first = visible.value.flatMap((one) => known.filter((field) => field.name === one.name))
  return [...first, ...known.filter((field) => !isVisible(field.name))]
})
const retired = computed(() => fields.value.filter((field) => field.retired))
const label = computed(() => {
  const count = visible.value.filter((one) => shown(fields.value).some((field) => field.name === one.name)).length
  return count === 1 ? '1 field' : `${count} fields`
})

function toggle(field: FieldDef) {
  const next = isVisible(field.name)
    ? visible.value.filter((one) => one.name !== field.name)
    : [...visible.value, { name: field.name, pinned: false }]
  state.change({ fields: next })
}

function move(field: FieldDef, by: number) {
  const next = [...visible.value]
  const at = next.findIndex((one) => one.name === field.name)
  const [taken] = next.splice(at, 1)
  if (taken) next.splice(Math.max(0, at + by), 0, taken)
  state.change({ fields: next })
}

const pin = (field: FieldDef) =>
  state.change({
    fields: visible.value.map((one) => (one.name === field.name ? { ...one, pinned: !one.pinned } : one)),
  })

function bringBack(field: FieldDef) {
  const path = { id: field.own as number }
  return save(
    value(
      api.POST('/api/v1/fields/{id}/retired', { params: { path }, body: { rev: field.rev as number, retired: false } }),
    ),
  )
}

function made(id: number) {
  editing.value = undefined
  if (!isVisible(`f${id}`)) state.change({ fields: [...visible.value, { name: `f${id}`, pinned: false }] })
}
</script>

<template>
  <PopPanel :label="label" wide @update:model-value="editing = undefined">
    <FieldForm
      v-if="editing"
      :field="editing === 'new' ? undefined : editing"
      @made="made"
      @done="editing = undefined"
    />
    <template v-else>
      <ul data-fields>
        <li v-for="field in all" :key="field.name">
          <label
            ><input type="checkbox" :checked="isVisible(field.name)" @change="toggle(field)" /> {{ field.label }}
            <span class="small quiet">{{ field.type === 'rolled_up' ? 'computed' : '' }}</span></label
          >
          <span class="acts">
            <template v-if="isVisible(field.name)">
              <button
                type="button"
                class="btn btn-plain"
                :aria-label="`${field.label} further up`"
                @click="move(field, -1)"
              >
                ↑
              </button>
              <button
                type="button"
                class="btn btn-plain"
                :aria-label="`${field.label} further down`"
                @click="move(field, 1)"
              >
                ↓
              </button>
              <button
                type="button"
                class="btn btn-plain"
                :aria-pressed="visible.some((one) => one.name === field.name && one.pinned)"
                :aria-label="`Keep ${field.label} at the left`"
                @click="pin(field)"
              >
                {{ visible.some((one) => one.name === field.name && one.pinned) ? 'kept left' : 'keep left' }}
              </button>
            </template>
            <button
              v-if="field.own"
              type="button"
              class="btn btn-plain"
              :aria-label="`Change ${field.label}`"
              @click="editing = field"
            >
              change
            </button>
          </span>
        </li>
        <li v-for="field in retired" :key="field.name" class="quiet">
          <span>{{ field.label }} <span class="small">retired, its values are kept</span></span>
          <span class="acts"
            ><button type="button" class="btn btn-plain" @click="bringBack(field)">bring back</button></span
          >
        </li>
      </ul>
      <button type="button" class="btn btn-outline" @click="editing = 'new'">Add a field</button>
    </template>
  </PopPanel>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
}
li {
  align-items: center;
  display: flex;
  gap: 12px;
  justify-content: space-between;
}
.acts {
  display: flex;
  gap: 2px;
}
.acts .btn {
  font-weight: 400;
}
</style>
