<script setup lang="ts">
import { computed } from 'vue'

/** How many speak against, for, and neither. */
const props = defineProps<{ against: number; neutral: number; forIt: number }>()
const WIDTH = 76
const parts = computed(() => {
  const all = Math.max(1, props.against + props.neutral + props.forIt)
  return {
    against: (props.against / all) * WIDTH,
    neutral: (props.neutral / all) * WIDTH,
    forIt: (props.forIt / all) * WIDTH,
  }
})
</script>

<template>
  <div class="spread">
    <svg :width="WIDTH" height="14" aria-hidden="true">
      <rect :width="parts.against" height="14" fill="var(--ink)" />
      <rect :x="parts.against" :width="parts.neutral" height="14" fill="var(--rule)" />
      <rect
        v-if="parts.forIt > 1"
        :x="parts.against + parts.neutral + 0.5"
        y=".5"
        :width="parts.forIt - 1"
        height="13"
        fill="none"
        stroke="var(--ink)"
      />
    </svg>
    <div class="small quiet number">{{ against }} · {{ neutral }} · {{ forIt }}</div>
  </div>
</template>

<style scoped>
.spread {
  align-items: center;
  display: inline-flex;
  gap: 7px;
}
</style>
