<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { thingIn } from '@/shared/tabs'
import { day, percent } from '@/shared/words'
import PickFinding from './PickFinding.vue'

/** One excerpt among the words around it, and what can be said of it, each with its key. */
const props = defineProps<{ excerpt: Schemas['CheckView']; about: Schemas['CheckAbout'] }>()
const emit = defineEmits<{ say: [answer: Schemas['CheckAnswer']]; later: [] }>()
const by = computed(() =>
  [props.excerpt.person ?? 'nameless', props.excerpt.account, day(props.excerpt.said_on), props.excerpt.source]
    .filter(Boolean)
    .join(' · '),
)
const near = computed(() => props.excerpt.answers.flatMap((answer) => answer.finding ?? []))
const keyOf = (answer: Schemas['CheckAnswer'], at: number) => (answer.words == null ? 0 : at + 1)
</script>

<template>
  <section class="card-thing" aria-label="To be checked" data-check>
    <div class="small quiet row-flex">
      <RouterLink class="thing" :to="thingIn('feedback_item', excerpt.item_id)">F{{ excerpt.item_id }}</RouterLink>
      {{ by }}
    </div>
    <blockquote dir="auto" tabindex="0" aria-label="What was said">
      <span class="quiet">{{ excerpt.before }}</span><mark>{{ excerpt.words }}</mark
      ><span class="quiet">{{ excerpt.after }}</span>
    </blockquote>
    <h2>{{ about === 'kind' ? 'What is it?' : 'What does it belong to?' }}</h2>
    <div class="answers" :class="{ findings: about === 'finding' }" role="group" aria-label="Answers">
      <button
        v-for="(answer, at) in excerpt.answers"
        :key="answer.said"
        type="button"
        class="btn btn-outline"
        :class="{ told: answer.said === excerpt.told }"
        @click="emit('say', answer)"
      >
        <kbd>{{ keyOf(answer, at) }}</kbd>
        <span v-if="answer.finding" class="quiet">N{{ answer.finding }}</span>
        {{ answer.words ?? 'None of these' }}
        <span v-if="answer.said === excerpt.told" class="small quiet"
          >suggested{{ excerpt.sure == null ? '' : `, ${percent(excerpt.sure)} sure` }}</span
        >
      </button>
    </div>
    <div class="row-flex small quiet more">
      <PickFinding
        v-if="about === 'finding'"
        label="Another finding …"
        :without="near"
        shortcut="Alt+V"
        @pick="(id, title) => emit('say', { said: String(id), finding: id, words: title })"
      />
      <span v-if="excerpt.told != null"><kbd>y</kbd> as suggested</span>
      <button type="button" class="btn btn-plain" @click="emit('later')"><kbd>l</kbd> Later</button>
      <span><kbd>Ctrl</kbd> <kbd>Z</kbd> takes the last one back</span>
    </div>
  </section>
</template>

<style scoped>
.card-thing {
  max-width: 860px;
  padding: 14px 16px;
}
blockquote {
  font-size: 17px;
  margin: 8px 0 12px;
  max-height: 190px;
  overflow-y: auto;
  white-space: pre-line;
}
mark {
  background: transparent;
  border-bottom: 2px solid var(--ink);
  color: inherit;
  font-weight: 600;
  padding: 0;
}
h2 {
  font-size: 15px;
  margin: 0 0 6px;
}
.answers {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.answers.findings {
  flex-direction: column;
}
.answers .btn {
  align-items: baseline;
  display: inline-flex;
  gap: 7px;
  text-align: left;
}
/* Nobody has said it yet. */
.told {
  border-style: dashed;
}
.more {
  flex-wrap: wrap;
  margin-top: 10px;
}
</style>
