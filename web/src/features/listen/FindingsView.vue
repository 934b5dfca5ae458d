<script setup lang="ts">
import { useFindings, useItems } from '@/api/queries'
import EmptyPlace from '@/shared/EmptyPlace.vue'
import { useSelection } from '@/shared/selection'
import SpreadBar from '@/shared/SpreadBar.vue'
import StageFrame from '@/shared/StageFrame.vue'
import WeekBars from '@/shared/WeekBars.vue'
import { money, whole, words } from '@/shared/words'
import { LISTEN } from '@/shared/tabs'

const { product, select, isSelected } = useSelection()
const { data: findings, error, isPending } = useFindings(product)
const { data: items } = useItems(product, {})
</script>

<template>
  <StageFrame :tabs="LISTEN" :busy="isPending" :problem="error?.message">
    <template #tools>
      <span v-if="items" class="small quiet"
        >{{ whole(items.all) }} items · {{ whole(items.excerpts) }} excerpts · {{ whole(items.outside) }} outside any
        finding</span
      >
      <RouterLink class="btn btn-primary" :to="{ name: 'bring-in' }">Bring in feedback</RouterLink>
    </template>
    <EmptyPlace v-if="findings?.length === 0" title="No finding yet">
      A finding is what several people say, under one sentence that a person could say aloud. Read some feedback, choose
      the excerpts that mean the same, and make a finding of them.
      <template #steps>
        <RouterLink class="btn btn-primary" :to="{ name: 'feedback' }">Read feedback</RouterLink>
        <RouterLink class="btn btn-outline" :to="{ name: 'bring-in' }">Bring in a file</RouterLink>
      </template>
    </EmptyPlace>
    <table v-else-if="findings" class="list">
      <thead>
        <tr>
          <th scope="col">What people say</th>
          <th scope="col" class="number">People</th>
          <th scope="col" class="number">Accounts</th>
          <th scope="col" class="number">Revenue €</th>
          <th scope="col">Last 8 weeks</th>
          <th scope="col">Against · neutral · for</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="finding in findings"
          :key="finding.id"
          :class="{ selected: isSelected('finding', finding.id) }"
          @click="select('finding', finding.id)"
          @focusin="select('finding', finding.id)"
        >
          <td class="says">
            <RouterLink
              class="thing"
              :to="{ name: 'finding', params: { product, id: finding.id }, query: { at: `finding:${finding.id}` } }"
              @click.stop
              >{{ finding.title }}</RouterLink
            >
            <div class="small quiet">
              N{{ finding.id }} · {{ finding.kinds.slice(0, 2).map(words).join(', ') }}
              <template v-if="finding.ideas.length"
                >· behind {{ finding.ideas.map((id) => `I${id}`).join(', ') }}</template
              >
              <template v-else>· no idea stands on it</template>
            </div>
          </td>
          <td class="figure">{{ whole(finding.voices.people) }}</td>
          <td class="figure">{{ whole(finding.voices.accounts) }}</td>
          <td class="figure">{{ finding.voices.revenue ? money(finding.voices.revenue) : '–' }}</td>
          <td><WeekBars :weeks="finding.weeks" /></td>
          <td>
            <SpreadBar
              :against="finding.spread.against"
              :neutral="finding.spread.neutral"
              :for-it="finding.spread.for_it"
            />
          </td>
        </tr>
      </tbody>
    </table>
  </StageFrame>
</template>

<style scoped>
.says {
  font-size: 15.5px;
  font-weight: 500;
  min-width: 260px;
}
.says .small {
  font-weight: 400;
}
</style>
