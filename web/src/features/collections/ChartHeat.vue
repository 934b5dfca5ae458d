<script setup lang="ts">
import { computed } from 'vue'
import { figure } from '@/shared/words'

/** Groups by groups; the larger the figure the darker the cell, and the figure stands in it. */
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
const LEFT = 150
const TOP = 34
const WIDE = 92
const HIGH = 34
const most = computed(() =>
  Math.max(1e-9, ...props.xs.flatMap((x) => props.series.map((y) => Math.abs(props.at(x, y) ?? 0)))),
)
const cells = computed(() =>
  props.xs.flatMap((x, row) =>
    props.series.map((y, column) => {
      const value = props.at(x, y)
      const share = Math.abs(value ?? 0) / most.value
      return { key: `${x.key} ${y.key}`, name: `${x.label}, ${y.label}`, row, column, value, share }
    }),
  ),
)
const short = (text: string, most: number) => (text.length > most ? `${text.slice(0, most - 1)}…` : text)
</script>

<template>
  <svg
    class="chart"
    :width="LEFT + series.length * WIDE + 8"
    :height="TOP + xs.length * HIGH + 8"
    role="img"
    :aria-label="`${title}. The numbers stand below as a table.`"
  >
    <text v-for="(y, n) in series" :key="y.key" :x="LEFT + n * WIDE + 4" :y="TOP - 10">
      <title>{{ y.label }}</title>
      {{ short(y.label, 13) }}
    </text>
    <text v-for="(x, n) in xs" :key="x.key" :x="LEFT - 10" :y="TOP + n * HIGH + 21" text-anchor="end">
      <title>{{ x.label }}</title>
      {{ short(x.label, 20) }}
    </text>
    <g
      v-for="cell in cells"
      :key="cell.key"
      :transform="`translate(${LEFT + cell.column * WIDE}, ${TOP + cell.row * HIGH})`"
    >
      <title>{{ cell.name }}: {{ cell.value === undefined ? 'nothing' : figure(cell.value) }}</title>
      <rect class="paper" :width="WIDE - 2" :height="HIGH - 2" />
      <rect class="ink" :width="WIDE - 2" :height="HIGH - 2" :fill-opacity="cell.share * 0.8" />
      <text
        v-if="cell.value !== undefined"
        class="figure"
        :class="{ dark: cell.share > 0.55 }"
        :x="WIDE - 12"
        y="21"
        text-anchor="end"
      >
        {{ figure(cell.value) }}
      </text>
    </g>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  margin-top: 8px;
  max-width: none;
}
text {
  fill: var(--quiet);
  font-size: 12.5px;
}
.paper {
  fill: var(--panel);
}
.ink {
  fill: var(--ink);
}
.figure {
  fill: var(--ink);
  font-size: 14px;
  font-weight: 600;
}
.dark {
  fill: var(--paper);
}
</style>
