<script setup lang="ts">
import { computed, ref } from 'vue'
import { keep, useGroups } from '@/api/collections'
import { asPng, standalone } from '@/shared/drawing'
import { figure } from '@/shared/words'
import ChartBars from './ChartBars.vue'
import ChartHeat from './ChartHeat.vue'
import ChartScatter from './ChartScatter.vue'
import { useCollection } from './context'
import { fieldOf } from './model'

/** A picture of figures; its numbers stand below it as a table. */
const { ask, definition, fields } = useCollection()
const chart = computed(() => definition.value.chart ?? { kind: 'bar' as const })
const group = computed(() => definition.value.group ?? [])
const grouped = computed(() => chart.value.kind !== 'scatter')
const { data, error, isPending } = useGroups(
  () => ask(),
  () => grouped.value && group.value.length > 0,
)
const label = (name: string | null | undefined) => fieldOf(fields.value, name)?.label ?? ''
const total = computed(() => (definition.value.totals ?? [])[0])
const measure = computed(() =>
  total.value ? `${total.value.measure} of ${label(total.value.field).toLowerCase()}` : 'how many',
)

interface Axis {
  key: string
  label: string
}
const axis = (at: number): Axis[] => {
  const all = new Map<string, string>()
  for (const one of data.value?.groups ?? []) {
    const key = one.keys[at]
    if (key) all.set(JSON.stringify(key.key ?? null), key.label)
  }
  const found = [...all].map(([key, label]) => ({ key, label }))
  // The server orders by the first field; the second one's keys come as they stand within the first.
  if (at === 0) return found
  const field = fieldOf(fields.value, group.value[1]?.field)
  const choices = field && 'choices' in field ? field.choices.map((one) => JSON.stringify(one.key)) : undefined
  const order = (one: Axis) => (one.key === 'null' ? 1e6 : (choices?.indexOf(one.key) ?? 0))
  return found.sort((a, b) => order(a) - order(b) || a.label.localeCompare(b.label))
}
const xs = computed(() => axis(0))
const series = computed<Axis[]>(() => (group.value.length > 1 ? axis(1) : [{ key: '', label: measure.value }]))
const figures = computed(() => {
  const all = new Map<string, number>()
  for (const one of data.value?.groups ?? []) {
    const x = JSON.stringify(one.keys[0]?.key ?? null)
    const y = group.value.length > 1 ? JSON.stringify(one.keys[1]?.key ?? null) : ''
    all.set(`${x} ${y}`, total.value ? (one.totals[0] ?? 0) : one.count)
  }
  return all
})
const at = (x: Axis, y: Axis) => figures.value.get(`${x.key} ${y.key}`)
const title = computed(() => {
  const by = group.value.map((one) => label(one.field)).join(' and ')
  return grouped.value ? `${measure.value} by ${by}` : `${label(chart.value.y)} against ${label(chart.value.x)}`
})

const place = ref<HTMLElement>()
const svg = () => place.value?.querySelector<SVGSVGElement>('svg.chart')
function saveSvg() {
  const drawing = svg()
  if (drawing) keep(new Blob([standalone(drawing)], { type: 'image/svg+xml' }), 'chart.svg')
}
async function savePng() {
  const drawing = svg()
  if (drawing) keep(await asPng(drawing), 'chart.png')
}
</script>

<template>
  <div ref="place" class="picture" :aria-busy="isPending && grouped && group.length > 0" data-chart>
    <p v-if="grouped && group.length === 0" class="quiet">Choose a field to group by in the line above.</p>
    <p v-else-if="error" role="alert">{{ error.message }}</p>
    <template v-else>
      <header class="row-flex">
        <h2>{{ title }}</h2>
        <span class="spacer row-flex">
          <button type="button" class="btn btn-plain" @click="saveSvg">Picture as SVG</button>
          <button type="button" class="btn btn-plain" @click="savePng">as PNG</button>
        </span>
      </header>
      <ChartScatter v-if="chart.kind === 'scatter'" :title="title" />
      <ChartHeat v-else-if="chart.kind === 'heat'" :xs="xs" :series="series" :at="at" :title="title" />
      <ChartBars v-else :kind="chart.kind" :xs="xs" :series="series" :at="at" :title="title" />
      <details v-if="grouped">
        <summary>The numbers as a table</summary>
        <table class="list numbers">
          <thead>
            <tr>
              <th scope="col">{{ label(group[0]?.field) }}</th>
              <th v-for="one in series" :key="one.key" scope="col" class="number">{{ one.label }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="x in xs" :key="x.key">
              <th scope="row">{{ x.label }}</th>
              <td v-for="y in series" :key="y.key" class="number">
                {{ at(x, y) === undefined ? '' : figure(at(x, y) ?? 0) }}
              </td>
            </tr>
          </tbody>
        </table>
      </details>
    </template>
  </div>
</template>

<style scoped>
.picture {
  flex: 1;
  min-height: 0;
  overflow: auto;
  padding: 12px 16px;
}
h2 {
  font-size: 17px;
  margin: 0;
}
h2::first-letter {
  text-transform: uppercase;
}
summary {
  cursor: pointer;
  margin-top: 10px;
}
.numbers {
  max-width: 760px;
  width: auto;
}
</style>
