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
/** The story that is picked up with the keyboard. */
const held = ref<number>()
const { carry } = useCarried([queue])

const inColumn = (column: number) =>
  (queue.value?.stories ?? [])
    .filter((story) => story.column_id === column)
    .sort((a, b) => a.queue_position - b.queue_position || a.id - b.id)

async function place(story: Story, column: number, before: number | undefined) {
  const body = { rev: story.rev, column_id: column, before }
  await save(value(api.POST('/api/v1/handover/stories/{id}/column', { params: { path: { id: story.id } }, body })))
}

/** One key's move: to the next column, or past a neighbour in the same one. */
async function move(story: Story, key: string) {
  carry(`queue-${story.id}`)
  const at = columns.value.findIndex((column) => column.id === story.column_id)
  const list = inColumn(story.column_id ?? 0)
  const place_ = list.findIndex((one) => one.id === story.id)
  if (key === 'ArrowLeft' || key === 'ArrowRight') {
    const to = columns.value[at + (key === 'ArrowLeft' ? -1 : 1)]
    if (!to) return
    await place(story, to.id, undefined)
    saying.value = `S${story.id} is in ${to.title} now`
  } else {
    const before = key === 'ArrowUp' ? list[place_ - 1] : list[place_ + 2]
    if (key === 'ArrowUp' ? place_ === 0 : place_ === list.length - 1) return
    await place(story, story.column_id ?? 0, before?.id)
    saying.value = `${story.reference} moved ${key === 'ArrowUp' ? 'up' : 'down'}`
  }
}
</script>

<template>
  <StageFrame :tabs="tabs" :busy="isPending" :problem="error?.message">
    <template #tools
      ><TeamPeople v-if="queue" :team="queue.team" /><span v-if="queue" class="small quiet"
        >Space picks a card up, arrows move it, Space puts it down</span
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
        v-model:held="held"
        :column="column"
        :stories="inColumn(column.id)"
        :all="queue.stories"
        @place="place"
        @move="move"
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
