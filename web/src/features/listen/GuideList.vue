<script setup lang="ts">
import type { Schemas } from '@/api/client'

/** The questions of a guide under their headings. Where they can be chosen, each is a button. */
const props = defineProps<{
  questions: readonly Schemas['GuideQuestion'][]
  chosen?: number
  /** How many lines answer each question. */
  answers?: readonly number[]
}>()
const emit = defineEmits<{ choose: [at: number] }>()
const heads = (at: number) => props.questions[at]?.section !== props.questions[at - 1]?.section
</script>

<template>
  <ol class="guide">
    <li v-for="(question, n) in questions" :key="n">
      <b v-if="heads(n) && question.section" class="small quiet">{{ question.section }}</b>
      <button
        v-if="chosen !== undefined"
        type="button"
        :class="{ chosen: n === chosen }"
        :aria-current="n === chosen ? 'step' : undefined"
        @click="emit('choose', n)"
      >
        <span>{{ question.words }}</span>
        <span v-if="answers?.[n]" class="small quiet" :aria-label="`${answers[n]} lines`">{{ answers[n] }}</span>
      </button>
      <span v-else>{{ question.words }}</span>
    </li>
  </ol>
</template>

<style scoped>
.guide {
  display: grid;
  gap: 4px;
  list-style: none;
  margin: 0;
  padding: 0;
}
b {
  display: block;
  margin: 8px 0 2px;
}
button {
  background: transparent;
  border: 1px solid transparent;
  border-radius: 4px;
  color: inherit;
  display: flex;
  gap: 8px;
  justify-content: space-between;
  min-height: 28px;
  padding: 3px 8px;
  text-align: left;
  width: 100%;
}
button:hover {
  border-color: var(--field);
}
button.chosen {
  background: var(--panel);
  border-color: var(--ink);
  font-weight: 650;
}
</style>
