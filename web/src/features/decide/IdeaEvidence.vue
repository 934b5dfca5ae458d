<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import type { RowView } from '@/api/collections'
import { useSave } from '@/api/save'
import PartBars from '@/shared/PartBars.vue'
import PeriodBars from '@/shared/PeriodBars.vue'
import StandingExcerpts from '../listen/StandingExcerpts.vue'
import { chance, count, day, figure, money, percent, withDays, words } from '@/shared/words'
import { told as scoreOf } from './scores'
import { HELD } from '../learn/verdicts'

/** How well an idea is supported, who stands behind it, and what follows for its score. */
const props = defineProps<{ row: RowView; sheet: Schemas['IdeaSheet'] }>()
const { edit } = useSave()
const told = computed(() => props.sheet.evidence)
const voices = computed(() => props.sheet.picture.voices)
const own = computed(() => props.row.values.confidence as number | null)
const score = computed(() => props.sheet.score)

/** Leaves the confidence to the evidence. */
const leave = () =>
  edit({ kind: 'idea', id: props.row.id }, { ...props.row.values, rev: props.row.rev }, { confidence: null })
const moves: Record<Schemas['Movement'], string> = {
  new: 'new',
  growing: 'a growing share of all that is said',
  fading: 'a fading share of all that is said',
  steady: 'about the same share of all that is said',
}
</script>

<template>
  <section data-evidence>
    <h3>What stands behind it</h3>
    <p>
      <b>{{ words(told.grade) }}</b> · confidence by the evidence
      <b class="figure" data-told>{{ told.confidence.toFixed(2) }}</b>
      <template v-if="own != null">
        · set by hand <b class="figure">{{ own.toFixed(2) }}</b>
        <button type="button" class="btn btn-plain" @click="leave">leave it to the evidence</button>
      </template>
      <template v-if="score.score != null">
        · {{ score.by }} <b class="figure" data-score>{{ scoreOf(score.score) }}</b></template
      >
    </p>
    <ul class="small quiet">
      <li v-for="one in told.reasons" :key="one">{{ withDays(one) }}</li>
    </ul>
    <ul v-if="sheet.results.length" data-results>
      <li v-for="one in sheet.results" :key="one.id">
        <b>{{ HELD[one.verdict ?? 'unclear'] }}</b>: {{ one.measure }}, {{ one.words }}
        <span class="small quiet">measured on {{ day(one.measured_on) }}</span>
      </li>
    </ul>
    <template v-if="voices.items">
      <p>
        {{ count(voices.people, 'person', 'people') }}, {{ count(voices.accounts, 'account')
        }}<template v-if="voices.revenue"
          >, € {{ money(voices.revenue) }} a year<template v-if="sheet.revenue_share != null">
            ({{ percent(sheet.revenue_share) }} of all revenue; each account counts once)</template
          ></template
        >
        <template v-if="sheet.sentiment != null"> · mean sentiment {{ sheet.sentiment.toFixed(2) }}</template>
      </p>
      <p class="small">
        {{ count(sheet.trend.recent, 'excerpt') }} in the last four weeks, {{ sheet.trend.before }} in the twelve
        before: {{ moves[sheet.trend.movement] }} ({{ chance(sheet.trend.p) }})
      </p>
      <details class="small">
        <summary>In parts and over time</summary>
        <div class="pictures">
          <PeriodBars class="wide" title="Over time" :over="sheet.picture.over_time" />
          <PartBars title="Segments" :parts="sheet.picture.segments" none="no segment" still />
          <PartBars title="Kinds" :parts="sheet.picture.kinds" still />
        </div>
        <StandingExcerpts :picture="sheet.picture" />
        <ul v-if="sheet.picture.unknown.length">
          <li v-for="one in sheet.picture.unknown" :key="one">{{ withDays(one) }}</li>
        </ul>
      </details>
    </template>
    <p v-else class="small quiet">
      Nobody’s words stand behind it yet. Put findings behind it, or quote what somebody said.
    </p>
    <p class="small quiet">
      <template v-if="score.missing.length">For {{ score.by }} it lacks {{ score.missing.join(', ') }}. </template
      >{{ figure(sheet.delivered.stories_done) }} of {{ figure(sheet.delivered.stories) }} stories are done.
    </p>
  </section>
</template>

<style scoped>
h3 {
  font-size: 15px;
  margin: 14px 0 4px;
}
p {
  margin: 4px 0;
}
ul {
  margin: 2px 0 6px;
  padding-left: 18px;
}
summary {
  cursor: pointer;
  min-height: 24px;
}
.pictures {
  display: grid;
  gap: 12px 20px;
  grid-template-columns: repeat(auto-fill, minmax(240px, 1fr));
}
.wide {
  grid-column: 1 / -1;
}
</style>
