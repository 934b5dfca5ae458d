<script setup lang="ts">
import { computed } from 'vue'
import { figure } from '@/shared/words'

/** A table of groups by groups; the larger the figure the darker the cell, and the figure stands in it. */
interface Axis {
  key: string
  label: string
}
const props = defineProps<{
  xs: readonly Axis[]
  series: readonly Axis[]
  at: (x: Axis, y: Axis) => number | undefined
  title: string
}>()
const most = computed(() =>
  Math.max(1, ...props.xs.flatMap((x) => props.series.map((y) => Math.abs(props.at(x, y) ?? 0)))),
)
const share = (x: Axis, y: Axis) => Math.abs(props.at(x, y) ?? 0) / most.value
const shade = (part: number) => `color-mix(in srgb, var(--ink) ${Math.round(part * 78)}%, var(--panel))`
</script>

<template>
  <table class="heat" :aria-label="title">
    <thead>
      <tr>
        <td></td>
        <th v-for="y in series" :key="y.key" scope="col">{{ y.label }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="x in xs" :key="x.key">
        <th scope="row">{{ x.label }}</th>
        <td
          v-for="y in series"
          :key="y.key"
          class="number"
          :class="{ dark: share(x, y) > 0.5 }"
          :style="{ backgroundColor: shade(share(x, y)) }"
        >
          {{ at(x, y) === undefined ? '' : figure(at(x, y) ?? 0) }}
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.heat {
  border-collapse: separate;
  border-spacing: 2px;
  margin-top: 8px;
}
th {
  color: var(--quiet);
  font-size: 13px;
  font-weight: 600;
  max-width: 200px;
  padding: 4px 8px;
  text-align: left;
}
.number {
  min-width: 74px;
  padding: 6px 9px;
}
.dark {
  color: var(--paper);
}
</style>
