<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { range } from './scores'

/** What several people said alone, one line each on one scale: the stroke is the range, the ring what is likely. */
const props = defineProps<{ said: readonly Schemas['SaidEstimate'][] }>()
const ends = computed(() => {
  const all = props.said.flatMap((one) => [one.range.low, one.range.high])
  return { from: Math.min(...all), to: Math.max(...all) }
})
const at = (value: number) => `${((value - ends.value.from) / (ends.value.to - ends.value.from || 1)) * 94 + 3}%`
</script>

<template>
  <ul aria-label="What each said alone" data-apart>
    <li v-for="one in said" :key="one.name">
      <span class="small">{{ one.mine ? 'You' : one.name }}</span>
      <svg height="16" role="img" :aria-label="range(one.range)">
        <line x1="0" x2="100%" y1="8" y2="8" class="scale" />
        <line :x1="at(one.range.low)" :x2="at(one.range.high)" y1="8" y2="8" class="range" />
        <circle :cx="at(one.range.likely)" cy="8" r="5" />
      </svg>
      <span class="small quiet number">{{ range(one.range) }}</span>
      <span v-if="one.reason" class="small quiet why">{{ one.reason }}</span>
    </li>
  </ul>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 4px 0;
  padding: 0;
}
li {
  align-items: center;
  display: grid;
  gap: 0 10px;
  grid-template-columns: 96px minmax(80px, 1fr) 150px;
}
svg {
  width: 100%;
}
.scale {
  stroke: var(--rule);
}
.range {
  stroke: var(--ink);
  stroke-width: 2.2;
}
circle {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 1.5;
}
.why {
  grid-column: 2 / -1;
}
</style>
