<script setup lang="ts">
import { computed, ref, watchEffect } from 'vue'
import { useRoute } from 'vue-router'
import { useFindingPicture, useFindings } from '@/api/queries'
import { useSave } from '@/api/save'
import EditField from '@/shared/EditField.vue'
import KiteMark from '@/shared/KiteMark.vue'
import { useSelection } from '@/shared/selection'
import SpreadBar from '@/shared/SpreadBar.vue'
import StageFrame from '@/shared/StageFrame.vue'
import { listOf, LISTEN, thingIn } from '@/shared/tabs'
import WeekBars from '@/shared/WeekBars.vue'
import { count, money } from '@/shared/words'
import FindingExcerpts from './FindingExcerpts.vue'
import FindingPicture from './FindingPicture.vue'
import FindingStanding from './FindingStanding.vue'
import FindingTold from './FindingTold.vue'
import MakeIdea from './MakeIdea.vue'
import NarrowerGroups from './NarrowerGroups.vue'
import StandingExcerpts from './StandingExcerpts.vue'
import { toldFilter, useSaidFilter } from './saidFilter'

const { product, selected, select } = useSelection()
const route = useRoute()
const { edit } = useSave()
const id = computed(() => Number(route.params.id))
const { data: findings, error, isPending } = useFindings(product)
const finding = computed(() => findings.value?.find((one) => one.id === id.value))
const { data: picture } = useFindingPicture(id)
const filter = useSaidFilter()
const only = computed(() => toldFilter(filter.value, picture.value?.sources ?? []))
const left = ref<number>()
const list = ref<InstanceType<typeof FindingExcerpts>>()
const seeList = () => (list.value?.$el as HTMLElement).scrollIntoView({ block: 'start' })
const opens = ref(false)
watchEffect(() => {
  if (!selected.value && id.value) select('finding', id.value)
})
</script>

<template>
  <StageFrame :tabs="LISTEN" :busy="isPending" :problem="error?.message">
    <article v-if="finding" class="finding">
      <div class="row-flex">
        <span class="small quiet">N{{ finding.id }} · a finding</span>
        <span class="spacer row-flex">
          <RouterLink class="btn btn-plain" :to="listOf('feedback_item')">Add more</RouterLink>
          <RouterLink
            class="btn btn-plain"
            :to="{ name: 'report', params: { product }, query: { findings: String(id) } }"
            >Report</RouterLink
          >
          <MakeIdea :id="id" :title="finding.title" />
        </span>
      </div>
      <h1 class="visually-hidden">{{ finding.title }}</h1>
      <div class="title">
        <EditField
          :value="finding.title"
          label="What people say"
          aria-keyshortcuts="Alt+R"
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
      <p v-if="finding.ideas.length" class="small ideas" data-ideas>
        <span class="quiet">Ideas that stand on it</span>
        <span v-for="one in finding.ideas" :key="one.id" class="row-flex">
          <KiteMark :state="one.state" />
          <RouterLink :to="thingIn('idea', one.id)">I{{ one.id }} {{ one.title }}</RouterLink>
        </span>
      </p>
      <FindingTold v-if="finding.told && findings" :told="finding.told" :findings="findings" />
      <EditField
        :value="finding.note"
        label="Note"
        placeholder="What else is to be known"
        wrap
        @save="edit({ kind: 'finding', id }, finding, { note: $event })"
      />
      <button
        type="button"
        class="btn btn-plain"
        :aria-expanded="opens"
        aria-keyshortcuts="Alt+W"
        @click="opens = !opens"
      >
        {{ opens ? 'Fold the narrower groups' : 'Open into narrower groups' }}
      </button>
      <NarrowerGroups v-if="opens" :id="id" />
      <FindingPicture v-if="picture" v-model="filter" :picture="picture" />
      <StandingExcerpts v-if="picture" :picture="picture" />
      <FindingExcerpts :id="id" ref="list" :filter="filter" @count="left = $event" />
      <div v-if="only.length" class="row-flex only" role="status" data-only>
        {{ count(left ?? 0, 'excerpt') }}, only
        <button
          v-for="[words, without] in only"
          :key="words"
          type="button"
          class="btn btn-outline"
          :aria-label="`${words}: take this away`"
          @click="filter = without"
        >
          {{ words }} ×
        </button>
        <button type="button" class="btn btn-plain" @click="seeList">See them</button>
      </div>
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
.only {
  background: var(--panel);
  border-top: 1px solid var(--rule);
  bottom: 0;
  flex-wrap: wrap;
  margin: 0 -16px -60px;
  padding: 8px 16px;
  position: sticky;
}
.ideas {
  align-items: center;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  margin: 0 0 4px;
}
.facts {
  gap: 20px;
  margin-bottom: 8px;
}
</style>
