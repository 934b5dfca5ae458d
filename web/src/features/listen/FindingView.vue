<script setup lang="ts">
import { computed, ref, watchEffect } from 'vue'
import { useRoute } from 'vue-router'
import { useFindings } from '@/api/queries'
import { useSave } from '@/api/save'
import EditField from '@/shared/EditField.vue'
import { useSelection } from '@/shared/selection'
import SpreadBar from '@/shared/SpreadBar.vue'
import StageFrame from '@/shared/StageFrame.vue'
import { listOf, LISTEN } from '@/shared/tabs'
import WeekBars from '@/shared/WeekBars.vue'
import { money } from '@/shared/words'
import FindingExcerpts from './FindingExcerpts.vue'
import FindingStanding from './FindingStanding.vue'
import FindingTold from './FindingTold.vue'
import MakeIdea from './MakeIdea.vue'
import NarrowerGroups from './NarrowerGroups.vue'

const { product, selected, select } = useSelection()
const route = useRoute()
const { edit } = useSave()
const id = computed(() => Number(route.params.id))
const { data: findings, error, isPending } = useFindings(product)
const finding = computed(() => findings.value?.find((one) => one.id === id.value))
const opens = ref(false)
watchEffect(() => {
  if (!selected.value && id.value) select('finding', id.value)
})
</script>

<template>
  <StageFrame :tabs="LISTEN" :busy="isPending" :problem="error?.message">
    <template #tools>
      <RouterLink class="btn btn-outline" :to="listOf('feedback_item')">Add more</RouterLink>
      <MakeIdea v-if="finding" :id="id" :title="finding.title" />
    </template>
    <article v-if="finding" class="finding">
      <div class="small quiet">N{{ finding.id }} · a finding</div>
      <h1 class="visually-hidden">{{ finding.title }}</h1>
      <div class="title">
        <EditField
          :value="finding.title"
          label="What people say"
          wrap
          @save="edit({ kind: 'finding', id }, finding, { title: $event })"
        />
      </div>
      <div class="row-flex facts">
        <span
          ><b class="figure">{{ finding.voices.people }}</b> people</span
        >
        <span
          ><b class="figure">{{ finding.voices.accounts }}</b> accounts</span
        >
        <span v-if="finding.voices.revenue"
          ><b class="figure">€ {{ money(finding.voices.revenue) }}</b> a year</span
        >
        <WeekBars :weeks="finding.weeks" />
        <SpreadBar
          :against="finding.spread.against"
          :neutral="finding.spread.neutral"
          :for-it="finding.spread.for_it"
        />
        <FindingStanding :id="id" :row="finding" :state="finding.state ?? 'accepted'" />
      </div>
      <FindingTold v-if="finding.told && findings" :told="finding.told" :findings="findings" />
      <EditField
        :value="finding.note"
        label="Note"
        placeholder="What else is to be known"
        wrap
        @save="edit({ kind: 'finding', id }, finding, { note: $event })"
      />
      <button type="button" class="btn btn-plain" :aria-expanded="opens" @click="opens = !opens">
        {{ opens ? 'Fold the narrower groups' : 'Open into narrower groups' }}
      </button>
      <NarrowerGroups v-if="opens" :id="id" />
      <FindingExcerpts :id="id" />
    </article>
  </StageFrame>
</template>

<style scoped>
.finding {
  padding: 14px 16px 60px;
}

.title {
  font:
    600 22px/1.25 'Bricolage Grotesque Variable',
    sans-serif;
  margin: 0 0 8px;
}
.facts {
  gap: 20px;
  margin-bottom: 8px;
}
</style>
