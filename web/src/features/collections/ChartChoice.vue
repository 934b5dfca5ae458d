<script setup lang="ts">
import { computed } from 'vue'
import PopPanel from '@/shared/PopPanel.vue'
import { useCollection } from './context'
import { fieldOf, groupFields, shown } from './model'

/** What a chart shows: its kind, and for a scatter the fields that place, size and name the points. */
const { definition, fields, state } = useCollection()
const chart = computed(() => definition.value.chart ?? { kind: 'bar' as const })
const KINDS = [
  ['bar', 'bars'],
  ['line', 'lines'],
  ['scatter', 'a scatter'],
  ['heat', 'a heat table'],
] as const
const axes = computed(() => shown(fields.value).filter((one) => one.shape === 'number' || one.type === 'date'))
const figures = computed(() => shown(fields.value).filter((one) => one.shape === 'number'))
const label = (name: string | null | undefined) => fieldOf(fields.value, name)?.label ?? 'nothing'
const picked = (event: Event) => (event.target as HTMLSelectElement).value

function turn(kind: (typeof KINDS)[number][0]) {
  const [x, y] = figures.value
  state.change({ chart: { ...chart.value, kind, x: chart.value.x ?? x?.name, y: chart.value.y ?? y?.name } })
}

const PARTS = [
  ['x', 'from left to right'],
  ['y', 'from below to above'],
  ['size', 'size'],
  ['colour', 'sign'],
  ['label', 'name'],
] as const
const offered = (part: string) =>
  part === 'colour'
    ? groupFields(fields.value)
    : part === 'label'
      ? shown(fields.value)
      : part === 'size'
        ? figures.value
        : axes.value
</script>

<template>
  <span>as</span>
  <select
    class="form-select kind"
    aria-label="Kind of chart"
    :value="chart.kind"
    @change="turn(picked($event) as (typeof KINDS)[number][0])"
  >
    <option v-for="[kind, words] in KINDS" :key="kind" :value="kind">{{ words }}</option>
  </select>
  <PopPanel v-if="chart.kind === 'scatter'" :label="`${label(chart.x)} against ${label(chart.y)}`">
    <label v-for="[part, words] in PARTS" :key="part" class="part">
      {{ words }}
      <select
        class="form-select"
        :value="chart[part] ?? ''"
        @change="state.change({ chart: { ...chart, [part]: picked($event) || null } })"
      >
        <option v-if="part !== 'x' && part !== 'y'" value="">nothing</option>
        <option v-for="one in offered(part)" :key="one.name" :value="one.name">{{ one.label }}</option>
      </select>
    </label>
  </PopPanel>
</template>

<style scoped>
.kind {
  width: auto;
}
.part {
  display: block;
  margin-bottom: 6px;
}
</style>
