<script setup lang="ts">
import { computed } from 'vue'
import { useRows, type RowView } from '@/api/collections'
import { useSelection } from '@/shared/selection'
import { day, figure } from '@/shared/words'
import { median, namesOf, place, scaleOf, sign } from './chart'
import { useCollection } from './context'
import { dayNumber, isoDay } from './daySpans'
import { fieldOf } from './model'
import { textOf } from './text'

/** A point for each thing, with the middle of both axes drawn; a click on a point selects its thing. */
defineProps<{ title: string }>()
const { ask, collection, definition, fields, team } = useCollection()
const { select, isSelected } = useSelection()
const chart = computed(() => definition.value.chart)
const field = (name: string | null | undefined) => fieldOf(fields.value, name)
const part = (name: 'x' | 'y' | 'size' | 'colour' | 'label') => computed(() => field(chart.value?.[name]))
const [x, y, size, colour, name] = [part('x'), part('y'), part('size'), part('colour'), part('label')] as const
const extra = computed(() => [x.value, y.value, size.value, colour.value, name.value].map((one) => one?.name))
const { data } = useRows(() => ask(extra.value, { limit: 500 }))

const WIDTH = 860
const HEIGHT = 430
const LEFT = 58
const BOTTOM = 46
const TOP = 14
const wide = WIDTH - LEFT - 30
const deep = HEIGHT - BOTTOM - TOP

function number(row: RowView, of: typeof x.value) {
  const value = row.values[of?.name ?? '']
  if (value == null) return undefined
  return of?.type === 'date' ? dayNumber(String(value)) : Number(value)
}
const points = computed(() =>
  (data.value?.rows ?? []).flatMap((row) => {
    const [px, py] = [number(row, x.value), number(row, y.value)]
    if (px === undefined || py === undefined) return []
    return [
      {
        row,
        px,
        py,
        size: number(row, size.value),
        group: colour.value ? textOf(colour.value, row.values[colour.value.name], team.value) || 'nothing' : '',
      },
    ]
  }),
)
const without = computed(() => (data.value?.rows.length ?? 0) - points.value.length)
const xScale = computed(() =>
  scaleOf(
    points.value.map((one) => one.px),
    x.value?.type !== 'date',
  ),
)
const yScale = computed(() =>
  scaleOf(
    points.value.map((one) => one.py),
    y.value?.type !== 'date',
  ),
)
const groups = computed(() => [...new Set(points.value.map((one) => one.group))].sort())
const largest = computed(() => Math.max(1e-9, ...points.value.map((one) => Math.abs(one.size ?? 0))))
const radius = (one: { size?: number }) =>
  size.value ? 4 + 12 * Math.sqrt(Math.abs(one.size ?? 0) / largest.value) : 6
const sx = (value: number) => LEFT + place(value, xScale.value, wide)
const sy = (value: number) => TOP + deep - place(value, yScale.value, deep)
const middle = computed(() => ({
  x: median(points.value.map((one) => one.px)),
  y: median(points.value.map((one) => one.py)),
}))
const words = (value: number, of: typeof x.value) => (of?.type === 'date' ? day(isoDay(value)) : figure(value))
/** Cut without a sign, so that what is seen stands in the name that is read aloud. */
const nameOf = (row: RowView) =>
  (name.value ? textOf(name.value, row.values[name.value.name], team.value) : '').slice(0, 60).trim()
const names = computed(() =>
  namesOf(
    points.value.map((one) => ({ x: sx(one.px), y: sy(one.py), r: radius(one), text: nameOf(one.row) })),
    WIDTH,
  ),
)
</script>

<template>
  <svg
    class="chart"
    :width="WIDTH"
    :height="HEIGHT"
    role="group"
    :aria-label="`${title}. The numbers stand below as a table.`"
  >
    <g v-for="tick in xScale.ticks" :key="`x${tick}`">
      <line :x1="sx(tick)" :x2="sx(tick)" :y1="TOP" :y2="TOP + deep" class="grid" />
      <text :x="sx(tick)" :y="TOP + deep + 17" text-anchor="middle">{{ words(tick, x) }}</text>
    </g>
    <g v-for="tick in yScale.ticks" :key="`y${tick}`">
      <line :x1="LEFT" :x2="LEFT + wide" :y1="sy(tick)" :y2="sy(tick)" class="grid" />
      <text :x="LEFT - 7" :y="sy(tick) + 4" text-anchor="end">{{ words(tick, y) }}</text>
    </g>
    <text :x="LEFT + wide" :y="HEIGHT - 8" text-anchor="end" class="axis">{{ x?.label }} →</text>
    <text :x="LEFT" :y="TOP - 2" class="axis">↑ {{ y?.label }}</text>
    <line
      v-if="middle.x !== undefined"
      :x1="sx(middle.x)"
      :x2="sx(middle.x)"
      :y1="TOP"
      :y2="TOP + deep"
      class="middle"
    />
    <line
      v-if="middle.y !== undefined"
      :x1="LEFT"
      :x2="LEFT + wide"
      :y1="sy(middle.y)"
      :y2="sy(middle.y)"
      class="middle"
    />
    <g
      v-for="(one, n) in points"
      :key="one.row.id"
      role="button"
      tabindex="0"
      class="point"
      :class="{ on: isSelected(collection, one.row.id) }"
      :aria-label="`${one.row.reference} ${one.row.title}`"
      @click="select(collection, one.row.id)"
      @focus="select(collection, one.row.id)"
    >
      <path :d="sign(groups.indexOf(one.group), sx(one.px), sy(one.py), radius(one))">
        <title>{{ one.row.reference }} {{ one.row.title }}{{ one.group ? `, ${one.group}` : '' }}</title>
      </path>
      <text v-if="names.get(n)" :x="names.get(n)?.x" :y="names.get(n)?.y" class="name">{{ nameOf(one.row) }}</text>
    </g>
    <g v-if="colour">
      <g
        v-for="(one, n) in groups.slice(0, 6)"
        :key="one"
        :transform="`translate(${LEFT + 8 + n * 128}, ${HEIGHT - 12})`"
      >
        <path :d="sign(n, 0, 0, 5)" class="key" />
        <text x="10" y="4">{{ one.slice(0, 16) }}</text>
      </g>
    </g>
  </svg>
  <p v-if="without" class="small quiet">
    {{ without }} without both values are left out. The dashed lines are the medians.
  </p>
  <details>
    <summary>The numbers as a table</summary>
    <table class="list">
      <thead>
        <tr>
          <th scope="col">Thing</th>
          <th scope="col" class="number">{{ x?.label }}</th>
          <th scope="col" class="number">{{ y?.label }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in points" :key="one.row.id">
          <td>{{ one.row.reference }} {{ one.row.title }}</td>
          <td class="number">{{ words(one.px, x) }}</td>
          <td class="number">{{ words(one.py, y) }}</td>
        </tr>
      </tbody>
    </table>
  </details>
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
.axis {
  fill: var(--ink);
  font-weight: 600;
}
.grid {
  stroke: var(--rule);
}
.middle {
  stroke: var(--quiet);
  stroke-dasharray: 5 4;
}
.point {
  cursor: pointer;
}
.point path,
.key {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 1.5;
}
.point.on path {
  fill: var(--ink);
}
.name {
  fill: var(--ink);
}
</style>
