<script setup lang="ts">
import { computed } from 'vue'

/** How often something was said in each of the last weeks. */
const props = defineProps<{ weeks: readonly number[] }>()
const most = computed(() => Math.max(1, ...props.weeks))
const words = computed(() => `Excerpts in each of the last ${props.weeks.length} weeks: ${props.weeks.join(', ')}`)
</script>

<template>
  <svg width="96" height="24" role="img" :aria-label="words">
    <title>{{ words }}</title>
    <rect
      v-for="(week, at) in weeks"
      :key="at"
      :x="at * 12"
      :y="23 - (week / most) * 23"
      width="10.5"
      :height="(week / most) * 23 + 1"
      fill="var(--quiet)"
      :opacity="at < weeks.length - 2 ? 0.5 : 1"
    />
  </svg>
</template>
