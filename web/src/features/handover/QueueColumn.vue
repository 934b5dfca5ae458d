<script setup lang="ts">
import { ref } from 'vue'
import type { Schemas } from '@/api/client'
import { useCards } from '@/shared/cards'
import KiteMark from '@/shared/KiteMark.vue'
import { useSelection } from '@/shared/selection'
import { count, figure, words } from '@/shared/words'

/** A column of a team's queue, under the team's own name, with the state that it stands for. */
type Story = Schemas['QueueStory']
const props = defineProps<{
  column: Schemas['TeamColumn']
  stories: readonly Story[]
  all: readonly Story[]
  /** The story that is picked up with the keyboard. */
  held: number | undefined
}>()
const emit = defineEmits<{
  place: [story: Story, column: number, before: number | undefined]
  hold: [story: Story]
  leave: [story: Story]
  step: [story: Story, key: string]
}>()
const { select, isSelected } = useSelection()
const list = ref<HTMLElement>()

useCards(list, 'queue', (card, to, before) => {
  const story = props.all.find((one) => one.id === card)
  if (story) emit('place', story, Number(to.dataset.column), before)
})

function onKey(event: KeyboardEvent, story: Story) {
  if (event.key === ' ') {
    event.preventDefault()
    emit('hold', story)
  } else if (event.key === 'Escape') {
    emit('leave', story)
  } else if (props.held === story.id && event.key.startsWith('Arrow')) {
    event.preventDefault()
    emit('step', story, event.key)
  }
}
</script>

<template>
  <section :aria-label="column.title" :data-column-title="column.title">
    <header>
      <h2>{{ column.title }}</h2>
      <div class="small quiet">{{ words(column.state) }} · {{ stories.length }}</div>
    </header>
    <div ref="list" class="cards" :data-column="column.id">
      <div
        v-for="story in stories"
        :id="`queue-${story.id}`"
        :key="story.id"
        class="card-thing"
        :class="{ 'selected-thing': isSelected('work_item', story.id), held: held === story.id }"
        role="button"
        tabindex="0"
        :data-card="story.id"
        :aria-pressed="held === story.id"
        @click="select('work_item', story.id)"
        @focus="select('work_item', story.id)"
        @keydown="onKey($event, story)"
      >
        <div>{{ story.reference }} {{ story.title }}</div>
        <div class="foot small quiet">
          <KiteMark :state="story.state" /><span
            >{{ count(story.criteria, 'criterion', 'criteria') }} ·
            {{ story.points == null ? 'no estimate' : `${figure(story.points)} points` }}</span
          >
        </div>
      </div>
    </div>
  </section>
</template>

<style scoped>
section {
  display: grid;
  grid-template-rows: auto 1fr;
}
header {
  border-bottom: 2px solid var(--ink);
  margin-bottom: 10px;
  padding-bottom: 4px;
}
h2 {
  font-size: 15px;
  margin: 0;
}
.cards {
  min-height: 80px;
}
.card-thing {
  cursor: grab;
  font-size: 14px;
  margin-bottom: 8px;
  user-select: none;
}
.held {
  border-style: dashed;
}
.foot {
  display: flex;
  gap: 8px;
  justify-content: space-between;
  margin-top: 4px;
}
</style>
