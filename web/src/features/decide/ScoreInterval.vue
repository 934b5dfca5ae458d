<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { told } from './scores'

/** Where a score may lie: the box holds 80 of 100 cases, its grey part half of them, the stroke is the median. */
const props = defineProps<{ spread: Schemas['ScoreSpread']; from: number; to: number }>()
const at = (value: number) => `${((value - props.from) / (props.to - props.from || 1)) * 100}%`
const wide = (from: number, to: number) => `${((to - from) / (props.to - props.from || 1)) * 100}%`
const words = computed(() =>
  props.spread.low === props.spread.high
    ? `${told(props.spread.median)} exactly`
    : `${told(props.spread.low)} to ${told(props.spread.high)}`,
)
</script>

<template>
  <span class="interval">
    <svg role="img" :aria-label="words" height="16">
      <line x1="0" x2="100%" y1="8" y2="8" class="scale" />
      <rect
        :x="at(spread.quarter)"
        y="2"
        :width="wide(spread.quarter, spread.three_quarters)"
        height="12"
        class="half"
      />
      <rect :x="at(spread.low)" y="2" :width="wide(spread.low, spread.high)" height="12" class="most" />
      <line :x1="at(spread.median)" :x2="at(spread.median)" y1="0" y2="16" class="middle" />
    </svg>
    <span class="small quiet number">{{ spread.low === spread.high ? 'exact' : words }}</span>
  </span>
</template>

<style scoped>
.interval {
  align-items: center;
  display: grid;
  gap: 10px;
  grid-template-columns: minmax(60px, 1fr) 104px;
}
svg {
  overflow: visible;
  width: 100%;
}
.scale {
  stroke: var(--rule);
}
.half {
  fill: var(--field);
  opacity: 0.55;
}
.most {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.3;
}
.middle {
  stroke: var(--ink);
  stroke-width: 2.4;
}
</style>
