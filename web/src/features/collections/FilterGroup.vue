<script setup lang="ts">
import { computed } from 'vue'
import type { Filter } from '@/api/collections'
import { useFiltered } from './context'
import FilterLine from './FilterLine.vue'
import { newTest, shown, type Test } from './model'

/** Conditions of which all, one or none must hold; a group can hold groups. */
const props = defineProps<{ filter: Filter; top?: boolean }>()
const emit = defineEmits<{ change: [filter: Filter]; remove: [] }>()
const { fields } = useFiltered()

type Mode = 'and' | 'or' | 'none'
const WORDS: Record<Mode, string> = { and: 'all of these hold', or: 'one of these holds', none: 'none of these holds' }

/** A single condition is a group of one. */
const mode = computed<Mode>(() => ('or' in props.filter ? 'or' : 'not' in props.filter ? 'none' : 'and'))
const parts = computed<Filter[]>(() => {
  const filter = props.filter
  if ('and' in filter) return filter.and
  if ('or' in filter) return filter.or
  if ('not' in filter) return 'or' in filter.not ? filter.not.or : [filter.not]
  return [filter]
})

function give(parts: Filter[], as: Mode = mode.value) {
  emit('change', as === 'and' ? { and: parts } : as === 'or' ? { or: parts } : { not: { or: parts } })
}

const put = (at: number, part: Filter) => give(parts.value.map((one, n) => (n === at ? part : one)))
const take = (at: number) => give(parts.value.filter((_, n) => n !== at))
const isTest = (filter: Filter): filter is Test => 'field' in filter

function add() {
  const field = shown(fields.value).find((one) => one.type === 'choice') ?? shown(fields.value)[0]
  if (field) give([...parts.value, newTest(field)])
}

function addGroup() {
  const field = shown(fields.value)[1]
  if (field) give([...parts.value, { or: [newTest(field)] }])
}
</script>

<template>
  <div class="group" :class="{ inner: !top }">
    <div class="row-flex">
      <span v-if="top" class="quiet">where</span>
      <select
        class="form-select mode"
        aria-label="How many must hold"
        :value="mode"
        @change="give(parts, ($event.target as HTMLSelectElement).value as Mode)"
      >
        <option v-for="(words, one) in WORDS" :key="one" :value="one">{{ words }}</option>
      </select>
      <button v-if="!top" type="button" class="btn btn-plain" @click="emit('remove')">take away</button>
    </div>
    <template v-for="(part, at) in parts" :key="at">
      <FilterLine v-if="isTest(part)" :test="part" @change="put(at, $event)" @remove="take(at)" />
      <FilterGroup v-else :filter="part" @change="put(at, $event)" @remove="take(at)" />
    </template>
    <div class="row-flex">
      <button type="button" class="btn btn-outline" @click="add">Add a condition</button>
      <button type="button" class="btn btn-plain" @click="addGroup">add a group of conditions</button>
    </div>
  </div>
</template>

<style scoped>
.group {
  display: grid;
  gap: 8px;
}
.inner {
  border-left: 1px solid var(--rule);
  padding-left: 12px;
}
.mode {
  width: auto;
}
</style>
