<script setup lang="ts">
import { computed } from 'vue'

/** Points that are done and planned, against the line of what fits; what is beyond it is hatched. */
const props = defineProps<{ points: number; done: number; capacity?: number | null; width?: number }>()
const width = computed(() => props.width ?? 120)
const scale = computed(() => (width.value - 4) / Math.max(1, props.points, props.capacity ?? 0))
const limit = computed(() => props.capacity ?? props.points)
const inside = computed(() => Math.min(props.points, limit.value) * scale.value)
const over = computed(() => Math.max(0, props.points - limit.value) * scale.value)
const words = computed(() => {
  const fits = props.capacity == null ? '' : `, ${props.capacity} fit`
  return `${props.done} of ${props.points} points done${fits}`
})
</script>

<template>
  <svg :width="width" height="22" role="img" :aria-label="words">
    <title>{{ words }}</title>
    <defs>
      <pattern id="beyond" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width="2" height="5" fill="var(--ink)" />
      </pattern>
    </defs>
    <rect x="1" y="6.5" :width="Math.max(1, inside)" height="9" fill="none" stroke="var(--quiet)" />
    <rect x="1" y="7" :width="Math.min(inside, done * scale)" height="8" fill="var(--quiet)" />
    <rect v-if="over" :x="1 + inside" y="6.5" :width="over" height="9" fill="url(#beyond)" stroke="var(--ink)" />
    <line
      v-if="capacity != null"
      :x1="1 + limit * scale"
      :x2="1 + limit * scale"
      y1="1"
      y2="21"
      stroke="var(--ink)"
      stroke-width="2"
    />
  </svg>
</template>
