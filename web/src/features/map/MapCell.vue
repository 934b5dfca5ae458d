<script setup lang="ts">
import { computed, onMounted, onUnmounted, ref } from 'vue'
import Sortable from 'sortablejs'
import type { Schemas } from '@/api/client'
import StoryCard from './StoryCard.vue'
import { useMoving } from './moving'

/** A cell of the map. Cards are dragged between cells; the data moves, and the picture follows it. */
const props = defineProps<{ step: Schemas['Step']; release: number | null; stories: readonly Schemas['StoryView'][] }>()
const moving = useMoving()
const list = ref<HTMLElement>()
let sortable: Sortable | undefined

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

onMounted(() => {
  if (!list.value) return
  sortable = Sortable.create(list.value, {
    group: 'stories',
    draggable: '[data-card]',
    forceFallback: true,
    fallbackTolerance: 4,
    animation: 120,
    onEnd(event) {
      const { item, from, to, oldIndex = 0, newIndex = 0 } = event
      if (from === to && oldIndex === newIndex) return
      const story = props.stories.find((one) => one.id === Number(item.dataset.card))
      const next = item.nextElementSibling as HTMLElement | null
      // The node goes back to where Vue knows it; then the data moves.
      from.insertBefore(item, from.querySelectorAll(':scope > [data-card]')[oldIndex] ?? null)
      const cell = { step: Number(to.dataset.step), release: Number(to.dataset.release) || null }
      if (story) void moving.place(story, cell, Number(next?.dataset.card) || undefined)
    },
  })
})
onUnmounted(() => sortable?.destroy())
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
