<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, value, type Schemas } from '@/api/client'
import { useQueue } from '@/api/queries'
import { useSave } from '@/api/save'
import { useCarried } from '@/shared/carried'
import EmptyPlace from '@/shared/EmptyPlace.vue'
import StageFrame from '@/shared/StageFrame.vue'
import QueueColumn from './QueueColumn.vue'
import TeamPeople from './TeamPeople.vue'
import { useHandoverTabs } from './tabs'

type Story = Schemas['QueueStory']
const route = useRoute()
const { teams, tabs } = useHandoverTabs()
const team = computed(() => Number(route.params.team) || teams.value?.[0]?.id)
const { data: queue, error, isPending } = useQueue(team)
const { save } = useSave()
const columns = computed(() => queue.value?.team.columns ?? [])
const saying = ref('')
/** The story that is picked up with the keyboard, and where it would be put down: behind so many others of a column. */
const held = ref<{ id: number; column: number; at: number }>()
const { carry } = useCarried([queue, held])

const others = (column: number) =>
  (queue.value?.stories ?? [])
    .filter((story) => story.column_id === column && story.id !== held.value?.id)
    .sort((a, b) => a.queue_position - b.queue_position || a.id - b.id)

/** The stories of a column, and the one that is held where it would be put down. */
function inColumn(column: number): Story[] {
  const list = others(column)
  const story = held.value?.column === column && queue.value?.stories.find((one) => one.id === held.value?.id)
  if (story) list.splice(held.value?.at ?? 0, 0, story)
  return list
}

async function place(story: Story, column: number, before: number | undefined) {
  const body = { rev: story.rev, column_id: column, before }
  await save(value(api.POST('/api/v1/handover/stories/{id}/column', { params: { path: { id: story.id } }, body })))
}

/** Picks a story up, or puts the one that is held down where it is. */
async function hold(story: Story) {
  const now = held.value
  if (now?.id !== story.id) {
    const column = story.column_id ?? 0
    const at = inColumn(column).findIndex((one) => one.id === story.id)
    held.value = { id: story.id, column, at }
    saying.value = `Picked up ${story.reference}`
    return
  }
  const before = others(now.column)[now.at]?.id
  const was = others(story.column_id ?? 0).filter((one) => one.queue_position < story.queue_position).length
  if (now.column !== story.column_id || now.at !== was) await place(story, now.column, before)
  held.value = undefined
  carry(`queue-${story.id}`)
  const title = columns.value.find((column) => column.id === now.column)?.title
  saying.value = `Put ${story.reference} down in ${title}`
}

function leave(story: Story) {
  if (held.value?.id !== story.id) return
  held.value = undefined
  carry(`queue-${story.id}`)
  saying.value = `${story.reference} is where it was`
}

/** One key's step of the story that is held: to the next column, or past a neighbour in the same one. */
function step(story: Story, key: string) {
  const now = held.value
  if (now?.id !== story.id) return
  carry(`queue-${story.id}`)
  if (key === 'ArrowLeft' || key === 'ArrowRight') {
    const at = columns.value.findIndex((column) => column.id === now.column)
    const to = columns.value[at + (key === 'ArrowLeft' ? -1 : 1)]
    if (!to) return
    held.value = { id: now.id, column: to.id, at: others(to.id).length }
    saying.value = `${story.reference} over ${to.title}`
  } else {
    const at = now.at + (key === 'ArrowUp' ? -1 : 1)
    if (at < 0 || at > others(now.column).length) return
    held.value = { ...now, at }
    saying.value = `${story.reference} ${key === 'ArrowUp' ? 'up' : 'down'}`
  }
}
</script>

<template>
  <StageFrame :tabs="tabs" :busy="isPending" :problem="error?.message">
    <template #tools
      ><TeamPeople v-if="queue" :team="queue.team" /><span v-if="queue" class="small quiet"
        >Space picks a card up, arrows move it, Space puts it down, Escape leaves it</span
      ></template
    >
    <EmptyPlace v-if="queue && queue.stories.length === 0" :title="`Nothing is in the queue of ${queue.team.name} yet`">
      Stories arrive here when they are handed over. The columns are the team's own; each stands for a state of the
      story.
      <template #steps
        ><RouterLink class="btn btn-primary" :to="{ name: 'ready' }">Hand stories over</RouterLink></template
      >
    </EmptyPlace>
    <div v-else-if="queue" class="columns">
      <QueueColumn
        v-for="column in columns"
        :key="column.id"
        :held="held?.id"
        :column="column"
        :stories="inColumn(column.id)"
        :all="queue.stories"
        @place="place"
        @hold="hold"
        @leave="leave"
        @step="step"
      />
    </div>
    <div class="visually-hidden" aria-live="assertive">{{ saying }}</div>
  </StageFrame>
</template>

<style scoped>
.columns {
  display: grid;
  gap: 14px;
  grid-auto-columns: minmax(180px, 1fr);
  grid-auto-flow: column;
  min-height: 100%;
  padding: 12px 16px;
}
</style>
