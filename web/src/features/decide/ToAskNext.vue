<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { percent } from '@/shared/words'
import { labelOf, told } from './scores'

/** What to find out next: the uncertain estimates whose knowing would change what makes the cut. */
const props = defineProps<{ scores: Schemas['Scores'] }>()
const emit = defineEmits<{ select: [number] }>()
const first = computed(() => props.scores.to_ask[0])
const rest = computed(() => props.scores.to_ask.slice(1, 6))
const label = (one: Schemas['ToAsk']) => labelOf(props.scores.model.definition, one.field)
</script>

<template>
  <section class="ask" data-to-ask aria-label="What to find out next">
    <template v-if="first">
      <p>
        <b
          >Find out next: the {{ label(first) }} of
          <button type="button" class="btn btn-plain" @click="emit('select', first.idea)">I{{ first.idea }}</button></b
        >
        Knowing it would change the top {{ scores.draw.top }} in {{ percent(first.changes) }} of all cases, and is worth
        {{ told(first.worth) }} of score.
      </p>
      <details v-if="rest.length" class="small">
        <summary class="quiet">Then</summary>
        <ol start="2">
          <li v-for="one in rest" :key="`${one.idea} ${one.field}`">
            the {{ label(one) }} of
            <button type="button" class="btn btn-plain" @click="emit('select', one.idea)">I{{ one.idea }}</button>:
            {{ percent(one.changes) }} of all cases, worth {{ told(one.worth) }}
          </li>
        </ol>
        <p class="quiet">
          Each estimate is looked at by itself, where the ideas with the highest mean scores are taken (the expected
          value of perfect information).
        </p>
      </details>
    </template>
    <p v-else-if="scores.ideas.some((one) => one.rank != null)" class="quiet">
      Nothing that is uncertain would change the top {{ scores.draw.top }}.
    </p>
    <p v-else class="quiet">No idea has a score yet. Open one and say what it may be: 30–60, or 30 40 60.</p>
  </section>
</template>

<style scoped>
.ask {
  border: 1px dashed var(--quiet);
  border-radius: 6px;
  margin: 14px 16px;
  padding: 8px 14px;
}
p {
  margin: 2px 0;
}
summary {
  cursor: pointer;
  min-height: 24px;
}
ol {
  margin: 2px 0 6px;
  padding-left: 22px;
}
</style>
