<script setup lang="ts">
import { computed, useId } from 'vue'
import { words } from './words'

/** A state as a small kite, the more filled the further it is, with the word beside it. */
const props = defineProps<{ state: string; plain?: boolean }>()

const LEVELS: Record<string, number> = {
  suggested: 0,
  accepted: 1,
  thrown_out: 0,
  raw: 0,
  weighing: 0.25,
  chosen: 0.5,
  shipped: 1,
  set_aside: 0,
  draft: 0,
  ready: 0,
  handed_over: 0.25,
  in_build: 0.5,
  in_check: 0.75,
  done: 1,
  planned: 0,
  reached: 1,
  missed: 0,
  dropped: 0,
  none: 0,
  partly: 0.5,
  fully: 1,
  received: 0,
  weighed: 0.25,
  declined: 0,
  under_way: 0.5,
  released: 1,
  finished: 1,
  in_review: 0.5,
  agreed: 1,
}

/** The height that cuts off this part of a diamond's area, from below. */
const HEIGHTS: Record<number, number> = { 0: 0, 0.25: 0.354, 0.5: 0.5, 0.75: 0.646, 1: 1 }
const top = computed(() => 15 * (1 - (HEIGHTS[LEVELS[props.state.replaceAll(' ', '_')] ?? 0] ?? 0)))
const id = useId()
</script>

<template>
  <span class="kite">
    <svg viewBox="0 0 13 15" width="11" height="13" aria-hidden="true">
      <clipPath :id="id"><rect x="0" :y="top" width="13" height="15" /></clipPath>
      <polygon points="6.5,0.7 12.3,6.3 6.5,14.3 0.7,6.3" fill="currentColor" :clip-path="`url(#${id})`" />
      <polygon points="6.5,0.7 12.3,6.3 6.5,14.3 0.7,6.3" fill="none" stroke="currentColor" stroke-width="1.4" />
    </svg>
    <span :class="{ 'visually-hidden': plain }">{{ words(state) }}</span>
  </span>
</template>

<style scoped>
.kite {
  color: var(--quiet);
  font-size: 13px;
  white-space: nowrap;
}
svg {
  margin-right: 5px;
  vertical-align: -1px;
}
</style>
