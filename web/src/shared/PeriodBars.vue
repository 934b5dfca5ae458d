<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import FigureFrame from './FigureFrame.vue'
import { partsOf, SIDES } from './sides'
import { count, day } from './words'

/** How much was said over time, and with which colour; a stretch of time can be picked. */
type Period = Schemas['Stretch']
const props = defineProps<{ title: string; over: Schemas['OverTime']; picked?: string }>()
const periods = computed(() => props.over.stretches)
const emit = defineEmits<{ pick: [period: Period | undefined] }>()
const DEEP = 110
const LEFT = 30
const RIGHT = 18
const place = ref<HTMLElement>()
const { width: room } = useElementSize(place)
/** Drawn as wide as there is room for, so that the letters keep their size. */
const width = computed(() => Math.max(240, Math.min(640, room.value || 560)))
const step = computed(() => (width.value - LEFT - RIGHT) / Math.max(1, periods.value.length))
const bar = computed(() => Math.min(34, Math.max(step.value - 3, step.value * 0.6)))
const most = computed(() => Math.max(1, ...periods.value.map((one) => one.excerpts)))
const length = (one: Period) => (one.excerpts / most.value) * DEEP
const says = (one: Period) =>
  `${day(one.from)} to ${day(one.to)}: ${one.excerpts}, ${one.spread.against} against, ${one.spread.neutral} neutral, ${one.spread.for_it} for`
const lines = computed(() =>
  periods.value.map((one) => [
    `${one.from} – ${one.to}`,
    one.excerpts,
    one.spread.against,
    one.spread.neutral,
    one.spread.for_it,
    Number(one.mean.toFixed(2)),
  ]),
)
/** As many names as there is room for, the last one always. */
const every = computed(() => Math.ceil(76 / step.value))
const named = (n: number) => (periods.value.length - 1 - n) % every.value === 0
const short = (iso: string) => day(iso).replace(/ \d{4}$/, '')
const weekly = computed(() => {
  const first = periods.value[0]
  return first !== undefined && new Date(first.to).getTime() - new Date(first.from).getTime() < 8 * 86_400_000
})
const name = (one: Period) => (weekly.value ? short(one.to) : day(one.from).replace(/^\d+ /, ''))
const pick = (one: Period) => emit('pick', props.picked === one.from ? undefined : one)
</script>

<template>
  <FigureFrame
    :title="title"
    :heads="['Days', 'Excerpts', ...SIDES.map(([, name]) => name), 'Mean sentiment']"
    :lines="lines"
  >
    <div ref="place">
      <svg data-figure :width="width" :height="DEEP + 34" role="group" :aria-label="title">
        <text :x="LEFT - 6" y="14" text-anchor="end" class="count">{{ most }}</text>
        <line :x1="LEFT" :x2="width - RIGHT" :y1="DEEP + 10.5" :y2="DEEP + 10.5" class="ground-line" />
        <g
          v-for="(one, n) in periods"
          :key="one.from"
          class="pick"
          :class="{ off: picked !== undefined && picked !== one.from }"
          role="button"
          tabindex="0"
          :aria-pressed="picked === one.from"
          :aria-label="says(one)"
          :data-period="one.from"
          :transform="`translate(${LEFT + n * step}, 0)`"
          @click="pick(one)"
          @keydown.enter.prevent="pick(one)"
          @keydown.space.prevent="pick(one)"
        >
          <title>{{ says(one) }}</title>
          <rect class="ground" :width="step" :height="DEEP + 34" />
          <rect
            v-for="piece in partsOf(one.spread, length(one))"
            :key="piece.side"
            :class="piece.side"
            :x="(step - bar) / 2"
            :y="DEEP + 10 - piece.from - piece.length"
            :width="bar"
            :height="piece.length"
          />
          <text v-if="named(n)" :x="step / 2" :y="DEEP + 28" text-anchor="middle" class="count">{{ name(one) }}</text>
        </g>
      </svg>
    </div>
    <p v-if="over.left_out" class="small quiet">
      {{ count(over.left_out, 'more excerpt') }} without a day in this time
    </p>
  </FigureFrame>
</template>

<style scoped>
svg {
  display: block;
  max-width: 100%;
}
p {
  margin: 0;
}
text {
  fill: var(--quiet);
  font-size: 12.5px;
}
.ground-line {
  stroke: var(--field);
}
</style>
