<script setup lang="ts">
import { computed } from 'vue'
import { useCollection } from './context'
import { figureFields } from './model'

/** Figures over each group and over all. */
const { definition, fields, state } = useCollection()
const MEASURES = ['sum', 'mean', 'median', 'min', 'max', 'count'] as const
const totals = computed(() => definition.value.totals ?? [])
const picked = (event: Event) => (event.target as HTMLSelectElement).value

function put(at: number, field: string) {
  const next = [...totals.value]
  if (field) next[at] = { field, measure: next[at]?.measure ?? 'sum' }
  else next.splice(at, 1)
  state.change({ totals: next })
}

function measure(at: number, to: string) {
  state.change({
    totals: totals.value.map((one, n) => (n === at ? { ...one, measure: to as (typeof MEASURES)[number] } : one)),
  })
}
</script>

<template>
  <div class="small quiet">Figures</div>
  <div v-for="at in totals.length + (totals.length < 4 ? 1 : 0)" :key="at" class="row-flex">
    <select
      v-if="totals[at - 1]"
      class="form-select"
      aria-label="What is computed"
      :value="totals[at - 1]?.measure"
      @change="measure(at - 1, picked($event))"
    >
      <option v-for="one in MEASURES" :key="one" :value="one">{{ one }}</option>
    </select>
    <select
      class="form-select"
      :aria-label="at === 1 ? 'Figure of' : 'and of'"
      :value="totals[at - 1]?.field ?? ''"
      @change="put(at - 1, picked($event))"
    >
      <option value="">{{ at === 1 ? 'only the count' : 'nothing more' }}</option>
      <option v-for="one in figureFields(fields)" :key="one.name" :value="one.name">{{ one.label }}</option>
    </select>
  </div>
</template>

<style scoped>
.form-select {
  width: auto;
}
</style>
