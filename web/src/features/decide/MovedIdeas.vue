<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { day } from '@/shared/words'

/** What moved since the last report that was agreed, and why. */
defineProps<{ scores: Schemas['Scores'] }>()
const place = (rank: number | null | undefined) => (rank == null ? 'not ranked' : `place ${rank}`)
</script>

<template>
  <details v-if="scores.since" class="moved" data-moved>
    <summary>
      {{ scores.moved.length ? `${scores.moved.length} moved` : 'Nothing moved' }} since the report that was agreed on
      {{ day(scores.since) }}
    </summary>
    <ul>
      <li v-for="one in scores.moved" :key="one.idea">
        I{{ one.idea }}: from {{ place(one.from) }} to {{ place(one.to)
        }}<template v-if="one.because.length">; {{ one.because.join('; ') }}</template
        ><span v-else class="quiet">; only others moved</span>
      </li>
    </ul>
  </details>
</template>

<style scoped>
.moved {
  margin: 6px 16px 14px;
}
summary {
  cursor: pointer;
  min-height: 24px;
}
ul {
  margin: 2px 0;
  padding-left: 20px;
}
</style>
