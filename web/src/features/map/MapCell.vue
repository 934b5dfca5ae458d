<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { useCards } from '@/shared/cards'
import StoryCard from './StoryCard.vue'
import { useMoving } from './moving'

/** A cell of the map. Cards are dragged between cells; the data moves, and the picture follows it. */
const props = defineProps<{ step: Schemas['Step']; release: number | null; stories: readonly Schemas['StoryView'][] }>()
const moving = useMoving()
const list = ref<HTMLElement>()

/** Where a story that is picked up with the keyboard would come to lie. */
const target = computed(() => {
  const to = moving.picked.value?.to
  return to && to.step === props.step.id && to.release === props.release ? to.at : undefined
})
const shown = computed(() => {
  const rest = props.stories.filter((story) => story.id !== moving.picked.value?.story.id)
  return target.value === undefined
    ? { before: rest, after: [] }
    : { before: rest.slice(0, target.value), after: rest.slice(target.value) }
})

useCards(list, 'stories', (card, to, before) => {
  const story = props.stories.find((one) => one.id === card)
  const cell = { step: Number(to.dataset.step), release: Number(to.dataset.release) || null }
  if (story) void moving.place(story, cell, before)
})
</script>

<template>
  <div ref="list" class="cell" :data-step="step.id" :data-release="release ?? ''">
    <StoryCard v-for="story in shown.before" :key="story.id" :story="story" />
    <StoryCard
      v-if="target !== undefined && moving.picked.value"
      :key="moving.picked.value.story.id"
      :story="moving.picked.value.story"
      picked
    />
    <StoryCard v-for="story in shown.after" :key="story.id" :story="story" />
    <div v-if="stories.length === 0 && target === undefined" class="quiet small none">nothing here yet</div>
  </div>
</template>

<style scoped>
.cell {
  flex: none;
  min-height: 40px;
  width: var(--cell);
}
.none {
  border: 1px dashed var(--rule);
  border-radius: 6px;
  padding: 8px 9px;
}
</style>
