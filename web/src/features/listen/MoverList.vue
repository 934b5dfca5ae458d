<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import FigureFrame from '@/shared/FigureFrame.vue'
import { useSelection } from '@/shared/selection'
import { chance } from '@/shared/words'

/** The findings that grow, fade or are new, more than chance explains, each with the test's result. */
const props = defineProps<{ movers: readonly Schemas['MoverView'][]; recent: number; before: number }>()
const { product } = useSelection()
const WIDTH = 276
const ROW = 24
/** Its share of all that was said: before, and now. All of it may swell; the share tells whether this does. */
const share = (one: Schemas['MoverView']) =>
  [one.before / Math.max(1, props.before), one.recent / Math.max(1, props.recent)] as const
const most = computed(() => Math.max(0.0001, ...props.movers.flatMap((one) => [...share(one)])))
const x = (value: number) => 50 + (value / most.value) * (WIDTH - 50 - 12)
const fine = (part: number) => `${(part * 100).toFixed(1)} %`
const lines = computed(() =>
  props.movers.map((one) => [`N${one.id} ${one.title}`, one.movement, one.recent, one.before, chance(one.p)]),
)
const says = (one: Schemas['MoverView']) =>
  `${one.movement}: from ${fine(share(one)[0])} to ${fine(share(one)[1])} of all that is said, ${chance(one.p)}`
</script>

<template>
  <FigureFrame
    v-if="movers.length"
    title="What moves"
    :heads="['Finding', 'Movement', 'Last 4 weeks', '12 weeks before', 'p']"
    :lines="lines"
  >
    <ol class="small">
      <li v-for="one in movers.slice(0, 6)" :key="one.id">
        <RouterLink
          class="thing"
          :to="{ name: 'finding', params: { product, id: one.id }, query: { at: `finding:${one.id}` } }"
          >N{{ one.id }} {{ one.title }}</RouterLink
        >
        <div class="quiet">{{ says(one) }}</div>
      </li>
    </ol>
    <svg
      data-figure
      class="arrows"
      :width="WIDTH"
      :height="movers.slice(0, 6).length * ROW"
      role="img"
      aria-label="Shares of all that is said, before and now. The numbers stand below."
    >
      <g v-for="(one, n) in movers.slice(0, 6)" :key="one.id" :transform="`translate(0, ${n * ROW + ROW / 2})`">
        <text x="42" y="4" text-anchor="end">N{{ one.id }}</text>
        <line :x1="x(share(one)[0])" :x2="x(share(one)[1])" y1="0" y2="0" />
        <circle :cx="x(share(one)[0])" r="3.5" class="before" />
        <circle :cx="x(share(one)[1])" r="3.5" />
      </g>
    </svg>
  </FigureFrame>
  <section v-else>
    <h3>What moves</h3>
    <p class="small quiet">Nothing moves more than chance explains, in the last 4 weeks against the 12 before.</p>
  </section>
</template>

<style scoped>
ol {
  list-style: none;
  margin: 0 0 6px;
  padding: 0;
}
h3 {
  font-size: 15px;
  margin: 0 0 4px;
}
li {
  margin-bottom: 4px;
}
text {
  fill: var(--quiet);
  font-size: 12.5px;
}
line {
  stroke: var(--ink);
  stroke-width: 1.4;
}
circle {
  fill: var(--ink);
  stroke: var(--ink);
}
.before {
  fill: var(--panel);
}
</style>
