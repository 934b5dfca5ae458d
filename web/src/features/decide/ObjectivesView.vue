<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { useObjectives } from '@/api/queries'
import { useTeam } from '@/api/collections'
import EmptyPlace from '@/shared/EmptyPlace.vue'
import ObjectivePath from '@/shared/ObjectivePath.vue'
import { useSelection } from '@/shared/selection'
import StageFrame from '@/shared/StageFrame.vue'
import { DECIDE, listOf } from '@/shared/tabs'
import { day, percent } from '@/shared/words'
import { told } from './objectives'

/** All objectives in their tree: how far each is by itself and by its parts, where it will be, and what is done for it. */
type View = Schemas['ObjectiveView']
const { product } = useSelection()
const { data, error, isPending } = useObjectives(product)
const { data: team } = useTeam()
const owner = (id: number | null | undefined) => team.value?.find((one) => one.id === id)?.name

/** The tree as lines, each with how deep it stands. */
const lines = computed(() => {
  const all = data.value ?? []
  const there = new Set(all.map((one) => one.id))
  const below = (parent: number | null) =>
    all.filter((one) => (parent === null ? !one.parent_id || !there.has(one.parent_id) : one.parent_id === parent))
  const walk = (parent: number | null, depth: number): { view: View; depth: number }[] =>
    below(parent).flatMap((view) => [{ view, depth }, ...walk(view.id, depth + 1)])
  return walk(null, 0)
})
</script>

<template>
  <StageFrame :tabs="DECIDE" :busy="isPending" :problem="error?.message">
    <div v-if="data" class="tree" data-tree>
      <EmptyPlace v-if="!data.length" title="No objectives yet">
        An objective is a goal with a measure, a start and a target.
        <RouterLink :to="listOf('objective')">Write the first one down.</RouterLink>
      </EmptyPlace>
      <ul v-else aria-label="Objectives">
        <li v-for="{ view, depth } in lines" :key="view.id" :style="{ '--depth': depth }" :data-objective="view.id">
          <div class="head">
            <h2>
              <RouterLink class="thing" :to="listOf('objective', { at: `objective:${view.id}`, whole: 'yes' })"
                ><span class="quiet">O{{ view.id }}</span> {{ view.title }}</RouterLink
              >
            </h2>
            <ObjectivePath :start="view.start_value" :present="view.present?.value" :target="view.target_value" />
            <span v-if="view.rolled.leaves > 1" class="small" title="The weighted mean of its parts"
              >by its parts {{ percent(view.rolled.share) }}</span
            >
          </div>
          <p class="small quiet">
            {{ view.measure }}: from {{ view.start_value }} to {{ view.target_value }} {{ view.unit
            }}<template v-if="view.due_on"> by {{ day(view.due_on) }}</template
            ><template v-if="owner(view.owner_id)"> · {{ owner(view.owner_id) }}</template>
          </p>
          <p class="facts small">
            <span v-for="one in told(view)" :key="one.text" :class="{ hatch: one.trouble }">{{ one.text }}</span>
            <span v-if="view.delivered.stories"
              >{{ view.delivered.stories_done }} of {{ view.delivered.stories }} stories done</span
            >
          </p>
        </li>
      </ul>
    </div>
  </StageFrame>
</template>

<style scoped>
.tree {
  padding: 12px 16px 60px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  border-top: 1px solid var(--rule);
  padding: 10px 0 10px calc(var(--depth) * 28px);
}
li:first-child {
  border-top: 0;
}
.head {
  align-items: center;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
}
h2 {
  flex: 1 1 280px;
  font-size: 16px;
  margin: 0;
}
p {
  margin: 2px 0;
}
.facts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
}
.hatch {
  border: 1px solid var(--ink);
  padding: 0 6px;
}
</style>
