<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { placeOf, useSelection } from '@/shared/selection'
import { day, moment } from '@/shared/words'

/** What a rule did, or would have done, a time after the other. */
defineProps<{ lines: readonly Schemas['RuleLine'][] }>()
const { product } = useSelection()
const SAYS: Record<string, string> = { done: 'done', stopped: 'stopped', failed: 'could not be done', would: 'would' }
</script>

<template>
  <ol data-runs>
    <li v-for="(one, n) in lines" :key="n" :class="{ hatch: one.outcome === 'stopped' || one.outcome === 'failed' }">
      <span class="small quiet">{{ one.day ? day(one.day) : moment(one.at) }}</span>
      <span>
        <RouterLink class="thing" :to="placeOf(one.thing, product)"
          ><b>{{ one.reference }}</b> {{ one.title }}</RouterLink
        >
        <span class="small says"> · {{ SAYS[one.outcome] ?? one.outcome }}: {{ one.words }}</span>
      </span>
    </li>
  </ol>
</template>

<style scoped>
ol {
  list-style: none;
  margin: 6px 0 0;
  padding: 0;
}
li {
  border-bottom: 1px solid var(--rule);
  display: grid;
  gap: 2px 12px;
  grid-template-columns: 150px 1fr;
  overflow-wrap: anywhere;
  padding: 5px 4px;
}
@media (max-width: 576px) {
  li {
    grid-template-columns: 1fr;
  }
}
</style>
