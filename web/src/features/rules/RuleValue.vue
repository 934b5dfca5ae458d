<script setup lang="ts">
import { computed } from 'vue'
import { useTeam, type FieldDef } from '@/api/collections'
import PickThing from '@/shared/PickThing.vue'

/** The value of a field, as a rule waits for it or sets it. */
const props = defineProps<{ field: FieldDef | undefined; label: string }>()
const value = defineModel<unknown>({ required: true })
const { data: team } = useTeam()
const choices = computed(() => {
  const field = props.field
  if (!field) return undefined
  if ('choices' in field && field.type === 'choice')
    return field.choices.map((one) => ({ key: one.key, label: one.label }))
  if (field.type === 'member') return (team.value ?? []).map((one) => ({ key: one.id, label: one.name }))
  if (field.type === 'yes_no')
    return [
      { key: true, label: 'yes' },
      { key: false, label: 'no' },
    ]
  return undefined
})
const text = computed(() => (value.value == null ? '' : String(value.value)))
const pick = (index: number) => (value.value = index < 0 ? null : (choices.value?.[index]?.key ?? null))
const isNumber = computed(() => props.field?.type === 'number' || props.field?.type === 'money')

function type(words: string) {
  if (words === '') value.value = null
  else value.value = isNumber.value ? Number(words) : words
}
</script>

<template>
  <select
    v-if="choices"
    class="form-select"
    :aria-label="label"
    :value="choices.findIndex((one) => one.key === value)"
    @change="pick(Number(($event.target as HTMLSelectElement).value))"
  >
    <option :value="-1">nothing</option>
    <option v-for="(one, n) in choices" :key="n" :value="n">{{ one.label }}</option>
  </select>
  <span v-else-if="field?.type === 'link'" class="row-flex">
    <span>{{ value == null ? 'nothing' : `number ${text}` }}</span>
    <PickThing
      :label="value == null ? 'pick one' : 'another'"
      search="Find it by its words"
      :places="[{ kind: field.to, name: field.label }]"
      @pick="(_, id) => (value = id)"
    />
  </span>
  <input
    v-else
    class="form-control"
    :aria-label="label"
    :type="isNumber ? 'number' : field?.type === 'date' ? 'date' : 'text'"
    step="any"
    placeholder="nothing"
    :value="text"
    @input="type(($event.target as HTMLInputElement).value)"
  />
</template>
