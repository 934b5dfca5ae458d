<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import FigureFrame from '@/shared/FigureFrame.vue'
import { day, figure } from '@/shared/words'

/** What was measured of an objective, against the straight way from its start to its target, and where it will be on its day. */
const props = defineProps<{ sheet: Schemas['ObjectiveSheet'] }>()
const DEEP = 150
const LEFT = 46
const RIGHT = 64
const TOP = 12
const place = ref<HTMLElement>()
const { width: room } = useElementSize(place)
const width = computed(() => Math.max(260, Math.min(680, room.value || 560)))

const at = (iso: string) => new Date(`${iso}T00:00:00`).getTime()
const values = computed(() => props.sheet.values)
const forecast = computed(() => props.sheet.forecast)
const days = computed(() => {
  const all = [...props.sheet.way.map((one) => one.on), ...values.value.map((one) => one.on)]
  const times = [...all, ...(forecast.value ? [forecast.value.on] : [])].map(at)
  return { from: Math.min(...times), to: Math.max(...times) }
})
const range = computed(() => {
  const told = forecast.value
  const all = [
    props.sheet.start_value,
    props.sheet.target_value,
    ...values.value.map((one) => one.value),
    ...(told ? [told.low, told.high] : []),
  ]
  return { low: Math.min(...all), high: Math.max(...all) }
})
const x = (iso: string) => {
  const { from, to } = days.value
  return to === from ? LEFT : LEFT + ((at(iso) - from) / (to - from)) * (width.value - LEFT - RIGHT)
}
const y = (value: number) => {
  const { low, high } = range.value
  return high === low ? TOP + DEEP / 2 : TOP + DEEP - ((value - low) / (high - low)) * DEEP
}
const line = computed(() => values.value.map((one) => `${x(one.on)},${y(one.value)}`).join(' '))
const last = computed(() => values.value.at(-1))
const unit = computed(() => (props.sheet.unit ? ` ${props.sheet.unit}` : ''))
const lines = computed(() =>
  values.value.map((one) => [one.on, one.value, one.straight == null ? '' : Number(one.straight.toFixed(2))]),
)
const short = (iso: string) => day(iso).replace(/ \d{4}$/, '')
const says = computed(() => {
  const now = last.value ? `${figure(last.value.value)}${unit.value} on ${day(last.value.on)}` : 'not measured yet'
  return `${props.sheet.measure}: from ${props.sheet.start_value} to ${props.sheet.target_value}${unit.value}, ${now}`
})
</script>

<template>
  <FigureFrame title="How it comes along" :heads="['Day', 'Measured', 'Straight way']" :lines="lines">
    <div ref="place">
      <svg data-figure :width="width" :height="DEEP + TOP + 26" role="img" :aria-label="says">
        <line class="goal" :x1="LEFT" :x2="width - RIGHT" :y1="y(sheet.target_value)" :y2="y(sheet.target_value)" />
        <text :x="LEFT - 6" :y="y(sheet.start_value) + 4" text-anchor="end">{{ figure(sheet.start_value) }}</text>
        <text
          v-if="sheet.target_value !== sheet.start_value"
          :x="LEFT - 6"
          :y="y(sheet.target_value) + 4"
          text-anchor="end"
        >
          {{ figure(sheet.target_value) }}
        </text>
        <line
          v-if="sheet.way.length === 2"
          class="way"
          :x1="x(sheet.way[0]!.on)"
          :y1="y(sheet.way[0]!.value)"
          :x2="x(sheet.way[1]!.on)"
          :y2="y(sheet.way[1]!.value)"
        />
        <template v-if="forecast && last">
          <line class="foretold" :x1="x(last.on)" :y1="y(last.value)" :x2="x(forecast.on)" :y2="y(forecast.likely)" />
          <line
            class="interval"
            :x1="x(forecast.on)"
            :x2="x(forecast.on)"
            :y1="y(forecast.low)"
            :y2="y(forecast.high)"
          />
          <text :x="x(forecast.on) + 8" :y="y(forecast.likely) + 4">{{ figure(forecast.likely) }}</text>
        </template>
        <polyline class="measured" :points="line" />
        <polygon
          v-for="one in values"
          :key="one.on"
          class="point"
          :class="{ result: one.result != null }"
          points="0,-5 4,0 0,5 -4,0"
          :transform="`translate(${x(one.on)} ${y(one.value)})`"
        >
          <title>{{ day(one.on) }}: {{ figure(one.value) }}{{ unit }}</title>
        </polygon>
        <template v-if="days.to > days.from">
          <text :x="LEFT" :y="DEEP + TOP + 20">
            {{ short(new Date(days.from + 43_200_000).toISOString().slice(0, 10)) }}
          </text>
          <text :x="width - RIGHT" :y="DEEP + TOP + 20" text-anchor="middle">
            {{ short(new Date(days.to + 43_200_000).toISOString().slice(0, 10)) }}
          </text>
        </template>
      </svg>
    </div>
    <p class="small quiet">
      Dashed: the straight way from start to target.<template v-if="forecast">
        Dotted: where it goes if it goes on as it did; the bar holds four cases in five.</template
      >
    </p>
  </FigureFrame>
</template>

<style scoped>
svg {
  display: block;
  max-width: 100%;
}
text {
  fill: var(--quiet);
  font-size: 12.5px;
}
p {
  margin: 2px 0 0;
}
.goal {
  stroke: var(--rule);
}
.way {
  stroke: var(--quiet);
  stroke-dasharray: 6 4;
}
.foretold {
  stroke: var(--ink);
  stroke-dasharray: 2 4;
}
.interval {
  stroke: var(--ink);
  stroke-width: 4;
  opacity: 0.45;
}
.measured {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.5;
}
.point {
  fill: var(--ink);
}
.point.result {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 1.5;
}
</style>
