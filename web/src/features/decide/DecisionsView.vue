<script setup lang="ts">
import { computed } from 'vue'
import { useIdeas } from '@/api/queries'
import EmptyPlace from '@/shared/EmptyPlace.vue'
import { useSelection } from '@/shared/selection'
import StageFrame from '@/shared/StageFrame.vue'
import { day, whole } from '@/shared/words'
import { DECIDE } from '@/shared/tabs'

const { product, select, isSelected } = useSelection()
const { data: ideas, error, isPending } = useIdeas(product)
const decided = computed(() =>
  (ideas.value ?? [])
    .flatMap((idea) => (idea.decision ? [{ idea, decision: idea.decision }] : []))
    .sort((a, b) => b.decision.decided_on.localeCompare(a.decision.decided_on)),
)
</script>

<template>
  <StageFrame :tabs="DECIDE" :busy="isPending" :problem="error?.message">
    <EmptyPlace v-if="ideas && decided.length === 0" title="No decision yet">
      A decision says what will be done or left, and why. Take one in the ranking; the score of that moment is kept with
      it.
      <template #steps
        ><RouterLink class="btn btn-primary" :to="{ name: 'ranking' }">Open the ranking</RouterLink></template
      >
    </EmptyPlace>
    <table v-else class="list">
      <thead>
        <tr>
          <th scope="col">Decided</th>
          <th scope="col">Idea</th>
          <th scope="col">Why</th>
          <th scope="col" class="number">RICE then</th>
          <th scope="col" class="number">RICE now</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="{ idea, decision } in decided"
          :key="idea.id"
          :class="{ selected: isSelected('idea', idea.id) }"
          @click="select('idea', idea.id)"
          @focusin="select('idea', idea.id)"
        >
          <td>
            <b>{{ decision.outcome === 'chosen' ? 'chosen' : 'set aside' }}</b>
            <div class="small quiet">{{ day(decision.decided_on) }}</div>
          </td>
          <td>
            <RouterLink class="thing" :to="{ name: 'ranking', query: { at: `idea:${idea.id}` } }"
              >I{{ idea.id }} {{ idea.title }}</RouterLink
            >
          </td>
          <td>{{ decision.reason }}</td>
          <td class="number">{{ decision.score == null ? '–' : whole(decision.score) }}</td>
          <td class="number">{{ idea.rice.score == null ? '–' : whole(idea.rice.score) }}</td>
        </tr>
      </tbody>
    </table>
  </StageFrame>
</template>
