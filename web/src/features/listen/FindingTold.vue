<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { useSelection } from '@/shared/selection'
import { chance, count } from '@/shared/words'

/** What the engine tells of a finding: what it is about, how it moves, and what is near to it. */
const props = defineProps<{ told: Schemas['FindingToldView']; findings: readonly Schemas['FindingView'][] }>()
const { product } = useSelection()
const related = computed(() => props.told.related.flatMap((id) => props.findings.find((one) => one.id === id) ?? []))
const SAYS: Record<string, string> = {
  new: 'New: not said before',
  growing: 'Growing',
  fading: 'Fading',
  steady: 'Steady',
}
const test = computed(
  () =>
    `Its share of all that is said, last 4 weeks against the 12 before: ${chance(props.told.p)}. ` +
    'Exact conditional test; with all findings together at most 5 % of those said to move do so by chance.',
)
</script>

<template>
  <dl class="small" data-told>
    <div v-if="told.phrases.length">
      <dt>About</dt>
      <dd>{{ told.phrases.join(' · ') }}</dd>
    </div>
    <div>
      <dt>Movement</dt>
      <dd :title="test">
        {{ SAYS[told.movement] }}: {{ count(told.recent, 'excerpt') }} in the last 4 weeks,
        {{ count(told.before, 'excerpt') }} in the 12 weeks before ({{ chance(told.p) }})
      </dd>
    </div>
    <div v-if="related.length">
      <dt>Near to it</dt>
      <dd>
        <span v-for="one in related" :key="one.id" class="near">
          <RouterLink
            class="thing"
            :to="{ name: 'finding', params: { product, id: one.id }, query: { at: `finding:${one.id}` } }"
            >N{{ one.id }}</RouterLink
          >
          {{ one.title }}
        </span>
      </dd>
    </div>
  </dl>
</template>

<style scoped>
dl {
  margin: 6px 0;
}
div {
  display: grid;
  gap: 10px;
  grid-template-columns: 80px 1fr;
}
dt {
  color: var(--quiet);
  font-weight: 400;
}
dd {
  margin: 0;
}
.near + .near::before {
  content: ' · ';
}
</style>
