<script setup lang="ts">
import type { Schemas } from '@/api/client'
import StoryCard from './StoryCard.vue'
import { useMoving } from './moving'

/** Stories that hang below no step yet. */
const props = defineProps<{ stories: readonly Schemas['StoryView'][]; steps: readonly Schemas['Step'][] }>()
const moving = useMoving()

function put(story: Schemas['StoryView'], event: Event) {
  const step = Number((event.target as HTMLSelectElement).value)
  if (props.steps.some((one) => one.id === step))
    void moving.place(story, { step, release: story.release_id ?? null }, undefined)
}
</script>

<template>
  <section aria-label="Unplaced stories">
    <h2>Unplaced</h2>
    <ul>
      <li v-for="story in stories" :key="story.id">
        <StoryCard v-if="moving.picked.value?.story.id !== story.id" :story="story" />
        <label class="small">
          <span class="visually-hidden">Put {{ story.reference }} below a step</span>
          <select class="form-select" @change="put(story, $event)">
            <option value="">put below …</option>
            <option v-for="step in steps" :key="step.id" :value="step.id">{{ step.title }}</option>
          </select>
        </label>
      </li>
    </ul>
  </section>
</template>

<style scoped>
section {
  padding-top: 12px;
}
h2 {
  font-size: 15px;
}
ul {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  list-style: none;
  margin: 0;
  max-width: 900px;
  padding: 0;
}
li {
  width: var(--cell);
}
</style>
