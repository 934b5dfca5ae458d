<script setup lang="ts">
import { computed, useId } from 'vue'
import { figure } from '@/shared/words'
import { DASHES, LEGEND_LINE, legendOf, place, scaleOf, sign } from './chart'

/** Bars side by side, or lines: one for each series, told apart by hatch or dash and named where they end. */
interface Axis {
  key: string
  label: string
}
const props = defineProps<{
  kind: 'bar' | 'line' | 'scatter' | 'heat'
  xs: readonly Axis[]
  series: readonly Axis[]
  at: (x: Axis, y: Axis) => number | undefined
  title: string
}>()
const id = useId()
const HEIGHT = 330
const LEFT = 52
const BOTTOM = 62
const TOP = 14
/** So much room a bar has at least, with what is between it and the next. */
const LEAST = 5
const step = computed(() => {
  const bars = props.kind === 'bar' ? LEAST * props.series.length + 12 : 0
  return Math.max(46, bars, Math.min(150, 820 / Math.max(1, props.xs.length)))
})
const right = computed(() => (props.kind === 'line' && props.series.length > 1 ? 130 : 12))
const width = computed(() => LEFT + step.value * props.xs.length + right.value)
const deep = HEIGHT - BOTTOM - TOP
const all = computed(() => props.xs.flatMap((x) => props.series.map((y) => props.at(x, y) ?? 0)))
const scale = computed(() => scaleOf(all.value, true))
const y = (value: number) => TOP + deep - place(value, scale.value, deep)
const barWidth = computed(() => Math.min(46, (step.value - 12) / props.series.length))
const barX = (n: number, m: number) =>
  LEFT + step.value * n + (step.value - barWidth.value * props.series.length) / 2 + barWidth.value * m
const lineX = (n: number) => LEFT + step.value * (n + 0.5)
const lines = computed(() =>
  props.series.map((one, m) => {
    const points = props.xs.map((x, n) => [lineX(n), y(props.at(x, one) ?? 0)] as const)
    return { ...one, m, path: points.map(([px, py], n) => `${n ? 'L' : 'M'}${px},${py}`).join(''), points }
  }),
)
/** Names of lines that end at the same height are moved apart. */
const names = computed(() => {
  const sorted = lines.value
    .map((line) => ({ label: line.label, y: line.points.at(-1)?.[1] ?? 0 }))
    .sort((a, b) => a.y - b.y)
  let last = -20
  return sorted.map((one) => {
    last = Math.max(one.y, last + 15)
    return { ...one, y: last }
  })
})
/** So many bars are told apart by how they are filled. */
const FILLS = 6
const fills = (n: number) => (n % FILLS === 0 ? 'var(--quiet)' : `url(#${id}-${n % FILLS})`)
/** Names and words have room below few bars, too. */
const READABLE = 560
const named = computed(() => props.kind === 'bar' && props.series.length > 1)
const whole = computed(() => (named.value ? Math.max(width.value, LEFT + READABLE) : width.value))
const again = computed(() => named.value && props.series.length > FILLS)
const legend = computed(() => legendOf(named.value ? props.series.map((one) => one.label) : [], whole.value - LEFT))
const below = computed(() => Math.max(0, legend.value.lines - 1) + (again.value ? 1 : 0))
const height = computed(() => HEIGHT + below.value * LEGEND_LINE)
const short = (text: string) => {
  const most = Math.max(6, Math.floor(step.value / 6.6))
  return text.length > most ? `${text.slice(0, most - 1)}…` : text
}
</script>

<template>
  <svg
    class="chart"
    :width="whole"
    :height="height"
    role="img"
    :aria-label="`${title}. The numbers stand below as a table.`"
  >
    <defs>
      <pattern :id="`${id}-1`" width="6" height="6" patternUnits="userSpaceOnUse">
        <rect width="6" height="6" fill="var(--panel)" />
      </pattern>
      <pattern :id="`${id}-2`" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width="5" height="5" fill="var(--panel)" />
        <rect width="1.6" height="5" fill="var(--ink)" />
      </pattern>
      <pattern :id="`${id}-3`" width="6" height="6" patternUnits="userSpaceOnUse">
        <rect width="6" height="6" fill="var(--panel)" />
        <circle cx="3" cy="3" r="1.3" fill="var(--ink)" />
      </pattern>
      <pattern :id="`${id}-4`" width="6" height="6" patternUnits="userSpaceOnUse">
        <rect width="6" height="6" fill="var(--ink)" />
      </pattern>
      <pattern :id="`${id}-5`" width="6" height="6" patternUnits="userSpaceOnUse">
        <rect width="6" height="6" fill="var(--panel)" />
        <rect width="6" height="2" fill="var(--quiet)" />
      </pattern>
    </defs>
    <g v-for="tick in scale.ticks" :key="tick">
      <line :x1="LEFT" :x2="width - right" :y1="y(tick)" :y2="y(tick)" class="grid" />
      <text :x="LEFT - 7" :y="y(tick) + 4" text-anchor="end">{{ figure(tick) }}</text>
    </g>
    <g v-for="(x, n) in xs" :key="x.key">
      <text :x="lineX(n)" :y="HEIGHT - BOTTOM + 18" text-anchor="middle">
        <title>{{ x.label }}</title>
        {{ short(x.label) }}
      </text>
      <template v-if="kind === 'bar'">
        <rect
          v-for="(one, m) in series"
          :key="one.key"
          :x="barX(n, m)"
          :y="Math.min(y(0), y(at(x, one) ?? 0))"
          :width="barWidth - 2"
          :height="Math.abs(y(0) - y(at(x, one) ?? 0))"
          :fill="fills(m)"
          class="bar"
        >
          <title>{{ x.label }}{{ series.length > 1 ? `, ${one.label}` : '' }}: {{ figure(at(x, one) ?? 0) }}</title>
        </rect>
      </template>
    </g>
    <template v-if="kind === 'line'">
      <g v-for="line in lines" :key="line.key">
        <path :d="line.path" class="line" :stroke-dasharray="DASHES[line.m % 6]" />
        <path v-for="([px, py], n) in line.points" :key="n" :d="sign(line.m, px, py, 3.4)" class="point">
          <title>{{ xs[n]?.label }}, {{ line.label }}: {{ figure(at(xs[n]!, line) ?? 0) }}</title>
        </path>
      </g>
      <template v-if="series.length > 1">
        <text v-for="one in names" :key="one.label" :x="width - right + 4" :y="one.y + 4">
          {{ one.label.slice(0, 20) }}
        </text>
      </template>
    </template>
    <template v-else>
      <g
        v-for="(one, m) in legend.entries"
        :key="series[m]?.key"
        :transform="`translate(${LEFT + one.x}, ${HEIGHT - 22 + one.y})`"
        data-legend
      >
        <rect width="14" height="12" :fill="fills(m)" class="bar" />
        <text x="20" y="11">{{ one.text }}</text>
      </g>
      <text v-if="again" :x="LEFT" :y="height - 12">
        The fillings come again after six; each bar says its name, and so does the table below.
      </text>
    </template>
    <line :x1="LEFT" :x2="width - right" :y1="y(0)" :y2="y(0)" class="zero" />
  </svg>
</template>

<style scoped>
svg {
  display: block;
  max-width: none;
}
text {
  fill: var(--quiet);
  font-size: 12.5px;
}
.grid {
  stroke: var(--rule);
}
.zero,
.bar {
  stroke: var(--ink);
}
.line {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.8;
}
.point {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 1.4;
}
</style>
