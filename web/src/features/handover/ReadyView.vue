<script setup lang="ts">
import { takeout } from '@/api/files'
import { listOf, thingIn } from '@/shared/tabs'
import { computed, reactive } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useBoard } from '@/api/queries'
import { useSave } from '@/api/save'
import EmptyPlace from '@/shared/EmptyPlace.vue'
import { useSelection } from '@/shared/selection'
import StageFrame from '@/shared/StageFrame.vue'
import { useHandoverTabs } from './tabs'

const { product, select, isSelected } = useSelection()
const { teams, tabs } = useHandoverTabs()
const { data: board, error, isPending } = useBoard(product)
const { save } = useSave()
const chosen = reactive<Record<number, number>>({})

/** Drafts, the ready ones first, then those that lack least. */
const drafts = computed(() => {
  const lacking = (story: Schemas['StoryView']) => story.check.checks.filter((check) => !check.holds).length
  return (board.value?.stories ?? [])
    .filter((story) => story.state === 'draft')
    .sort((a, b) => lacking(a) - lacking(b) || a.id - b.id)
})
const ready = computed(() => drafts.value.filter((story) => story.check.ready).length)
const asked = computed(() => drafts.value[0]?.check.checks.map((check) => check.what) ?? [])

function handOver(story: Schemas['StoryView']) {
  const team_id = chosen[story.id] ?? teams.value?.[0]?.id
  if (team_id === undefined) return
  return save(
    value(
      api.POST('/api/v1/handover/stories/{id}', {
        params: { path: { id: story.id } },
        body: { rev: story.rev, team_id },
      }),
    ),
  )
}
</script>

<template>
  <StageFrame :tabs="tabs" :busy="isPending" :problem="error?.message">
    <template #tools
      ><span class="small quiet">{{ ready }} of {{ drafts.length }} drafts are ready</span>
      <a class="btn btn-outline" :href="takeout.stories(product)">Stories as CSV</a></template
    >
    <EmptyPlace v-if="board && drafts.length === 0" title="No story waits here">
      Stories that are not handed over yet stand here with what they lack. All that there are have been handed over, or
      none is written.
      <template #steps
        ><RouterLink class="btn btn-primary" :to="listOf('work_item')">Write stories</RouterLink></template
      >
    </EmptyPlace>
    <table v-else class="list">
      <thead>
        <tr>
          <th scope="col">Story</th>
          <th v-for="what in asked" :key="what" scope="col" class="what">{{ what }}</th>
          <th scope="col">Hand over to</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="story in drafts"
          :key="story.id"
          :class="{ selected: isSelected('work_item', story.id) }"
          :data-story="story.reference"
          @click="select('work_item', story.id)"
          @focusin="select('work_item', story.id)"
        >
          <td class="story">
            <RouterLink class="thing" :to="thingIn('work_item', story.id)"
              >{{ story.reference }} {{ story.title }}</RouterLink
            >
          </td>
          <td v-for="check in story.check.checks" :key="check.what" class="small">
            <span v-if="check.holds">yes</span>
            <span v-else class="lacks">{{ check.to_do }}</span>
          </td>
          <td class="to">
            <div v-if="story.check.ready" class="row-flex over">
              <label>
                <span class="visually-hidden">The team for {{ story.reference }}</span>
                <select v-model="chosen[story.id]" class="form-select">
                  <option
                    v-for="(team, n) in teams"
                    :key="team.id"
                    :value="n === 0 && chosen[story.id] === undefined ? undefined : team.id"
                  >
                    {{ team.name }}
                  </option>
                </select>
              </label>
              <button
                type="button"
                class="btn btn-outline"
                :aria-label="`Hand over ${story.reference}`"
                @click.stop="handOver(story)"
              >
                Hand over
              </button>
            </div>
            <span v-else class="small quiet">not ready</span>
          </td>
        </tr>
      </tbody>
    </table>
  </StageFrame>
</template>

<style scoped>
.story {
  font-weight: 550;
  min-width: 180px;
}
.what {
  min-width: 84px;
}
.lacks {
  border-bottom: 1px dashed var(--quiet);
}
.to {
  min-width: 230px;
}
.over {
  flex-wrap: nowrap;
}
.over .btn {
  white-space: nowrap;
}
</style>
