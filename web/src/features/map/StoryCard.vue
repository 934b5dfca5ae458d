<script setup lang="ts">
import type { Schemas } from '@/api/client'
import KiteMark from '@/shared/KiteMark.vue'
import { useSelection } from '@/shared/selection'
import { figure } from '@/shared/words'
import { useMoving } from './moving'
import type { Direction } from './grid'

/** A story on the map. Space picks it up and puts it down, arrows move it. */
const props = defineProps<{ story: Schemas['StoryView']; picked?: boolean }>()
const { select, isSelected } = useSelection()
const moving = useMoving()

const WAYS: Record<string, Direction> = { ArrowLeft: 'left', ArrowRight: 'right', ArrowUp: 'up', ArrowDown: 'down' }

function onKey(event: KeyboardEvent) {
  const held = moving.picked.value?.story.id === props.story.id
  const way = WAYS[event.key]
  if (event.key === ' ' || (event.key === 'Enter' && held)) {
    event.preventDefault()
    if (held) void moving.putDown()
    else moving.pickUp(props.story)
  } else if (held && way) {
    event.preventDefault()
    moving.move(way)
  } else if (held && event.key === 'Escape') {
    moving.leave()
  }
}
</script>

<template>
  <div
    :id="`card-${story.id}`"
    class="card-thing card"
    :class="{ 'selected-thing': isSelected('work_item', story.id), picked }"
    role="button"
    tabindex="0"
    :data-card="story.id"
    :aria-roledescription="'story that can be moved'"
    @click="select('work_item', story.id)"
    @focus="select('work_item', story.id)"
    @keydown="onKey"
  >
    <div class="title">{{ story.reference }} {{ story.title }}</div>
    <div class="foot small quiet">
      <KiteMark :state="story.shown_state" /><b class="number">{{
        story.points == null ? '?' : figure(story.points)
      }}</b>
    </div>
    <div v-for="flag in story.needs_first" :key="flag.needed_id" class="hatch small flag">
      <b>{{ flag.words }}</b>
    </div>
  </div>
</template>

<style scoped>
.card {
  cursor: grab;
  font-size: 14px;
  line-height: 1.28;
  margin-bottom: 8px;
  touch-action: manipulation;
  user-select: none;
}
.picked {
  border-style: dashed;
  cursor: grabbing;
}
.foot {
  display: flex;
  justify-content: space-between;
  margin-top: 4px;
}
.flag {
  border-radius: 0 0 6px 6px;
  border-top: 1px solid var(--ink);
  margin: 6px -9px -7px;
  padding: 3px 9px;
}
</style>
