<script setup lang="ts">
import { computed } from 'vue'
import { percent } from '@/shared/words'

/** How far a measure has come from its start to its target. */
const props = defineProps<{ start: number; present?: number | null; target: number }>()
const share = computed(() => {
  const way = props.target - props.start
  return props.present == null || way === 0 ? undefined : (props.present - props.start) / way
})
const at = computed(() => Math.min(1, Math.max(0, share.value ?? 0)) * 100)
</script>

<template>
  <div class="path">
    <svg width="116" height="18" aria-hidden="true">
      <line x1="8" x2="108" y1="9" y2="9" stroke="var(--quiet)" />
      <line x1="8" x2="8" y1="4" y2="14" stroke="var(--quiet)" />
      <line x1="108" x2="108" y1="2" y2="16" stroke="var(--ink)" stroke-width="2" />
      <polygon
        v-if="share !== undefined"
        points="0,-6 5,0 0,6 -5,0"
        :transform="`translate(${8 + at} 9)`"
        fill="var(--ink)"
      />
    </svg>
    <div class="small quiet">{{ share === undefined ? 'not measured' : percent(share) }}</div>
  </div>
</template>

<style scoped>
.path {
  align-items: center;
  display: inline-flex;
  gap: 6px;
}
</style>
