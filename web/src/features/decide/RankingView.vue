<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { useRows } from '@/api/collections'
import EmptyPlace from '@/shared/EmptyPlace.vue'
import { useSelection } from '@/shared/selection'
import StageFrame from '@/shared/StageFrame.vue'
import { DECIDE, listOf } from '@/shared/tabs'
import { count } from '@/shared/words'
import CompareScores from './CompareScores.vue'
import IdeaDecision from './IdeaDecision.vue'
import IdeaScore from './IdeaScore.vue'
import MovedIdeas from './MovedIdeas.vue'
import RankedBy from './RankedBy.vue'
import RankingList from './RankingList.vue'
import ToAskNext from './ToAskNext.vue'
import { useRankedBy } from './scores'
import WhyRank from './WhyRank.vue'

/** Ideas by their score with its doubt; of the open one, why it stands there, its estimates, and the decision. */
const { selected, select } = useSelection()
const { product, ask, scores, models, model, error, isPending, top, setBy } = useRankedBy()
const opened = computed(() => (selected.value?.kind === 'idea' ? selected.value.id : undefined))
const comparing = ref(false)
const { data: rows } = useRows(() => ({
  collection: 'idea',
  product: product.value,
  query: { fields: ['state', 'outcome', 'reason', 'decided_on', 'score_then'], order: [], group: [], totals: [] },
  only: [opened.value ?? 0],
}))
const row = computed(() => rows.value?.rows.find((one) => one.id === opened.value))
/** What is open is in sight in the list, also where a link led here. */
watch([opened, () => scores.value !== undefined, () => row.value?.id], async ([id]) => {
  await nextTick()
  document.querySelector(`[data-ranked="${id}"]`)?.scrollIntoView({ block: 'nearest' })
})
</script>

<template>
  <StageFrame :tabs="DECIDE" :busy="isPending" :problem="error?.message">
    <div v-if="scores" class="halves">
      <div class="list" data-ranking>
        <EmptyPlace v-if="!scores.ideas.length" title="No ideas to rank">
          Ideas that are raw, weighed or chosen are ranked here.
          <RouterLink :to="listOf('idea')">Write the first one down.</RouterLink>
        </EmptyPlace>
        <template v-else>
          <div class="row-flex bar small">
            <RankedBy v-if="models" :models="models" :model="model" :top="top" @by="setBy" />
            <button
              type="button"
              class="btn btn-plain spacer"
              :aria-expanded="comparing"
              @click="comparing = !comparing"
            >
              Beside another
            </button>
            <RouterLink
              class="btn btn-plain"
              :to="listOf('idea', { view: 'effort_impact', ...(opened ? { at: `idea:${opened}` } : {}) })"
              >As points</RouterLink
            >
            <RouterLink class="btn btn-plain" :to="{ name: 'budget', query: $route.query }">Within a budget</RouterLink>
            <RouterLink class="btn btn-plain" :to="{ name: 'priorities' }">Reports</RouterLink>
            <RouterLink class="btn btn-plain" :to="{ name: 'models' }">Scoring models</RouterLink>
          </div>
          <CompareScores v-if="comparing && models" :scores="scores" :models="models" :top="top" />
          <RankingList
            :ideas="scores.ideas"
            :top="scores.draw.top"
            :name="scores.model.definition.title"
            :selected="opened"
            @select="(id) => select('idea', id)"
          />
          <p class="small quiet under" data-drawn>
            Told from {{ scores.draw.count.toLocaleString('en-GB') }} draws, seed {{ scores.draw.seed
            }}<template v-if="scores.left_out"
              >; {{ count(scores.left_out, 'idea') }} out or set aside, not ranked</template
            >.
          </p>
          <ToAskNext :scores="scores" @select="(id) => select('idea', id)" />
          <MovedIdeas :scores="scores" />
        </template>
      </div>
      <section v-if="row && opened" class="pane" :aria-label="`${row.reference} ${row.title}`" data-thing>
        <header>
          <h2>
            <span class="quiet">{{ row.reference }}</span> {{ row.title }}
          </h2>
          <RouterLink class="btn btn-plain" :to="listOf('idea', { at: `idea:${opened}`, whole: 'yes' })"
            >All of it</RouterLink
          >
        </header>
        <div class="inside">
          <div>
            <WhyRank :id="opened" :ask="ask" :definition="scores.model.definition" />
            <h3>Decide</h3>
            <IdeaDecision :row="row" />
          </div>
          <IdeaScore :id="opened" :key="opened" :model="scores.key" />
        </div>
      </section>
    </div>
  </StageFrame>
</template>

<style scoped>
.halves {
  display: flex;
  flex-direction: column;
  height: 100%;
  min-height: 0;
}
.list {
  flex: 1 1 0;
  min-height: 0;
  overflow: auto;
}
.bar {
  flex-wrap: wrap;
  gap: 2px 14px;
  padding: 4px 16px;
}
.under {
  margin: 8px 16px 0;
}
.pane {
  --ground: var(--panel);

  background: var(--panel);
  border-top: 1.5px solid var(--quiet);
  display: flex;
  flex: 0 0 46%;
  flex-direction: column;
  min-height: 0;
}
header {
  align-items: baseline;
  display: flex;
  gap: 10px;
  padding: 8px 16px 0;
}
h2 {
  flex: 1;
  font-size: 16px;
  margin: 0;
}
h3 {
  font-size: 15px;
  margin: 12px 0 4px;
}
.inside {
  display: grid;
  flex: 1;
  gap: 4px 28px;
  grid-template-columns: repeat(auto-fit, minmax(min(360px, 100%), 1fr));
  min-height: 0;
  overflow: auto;
  padding: 0 16px 56px;
  scroll-padding-bottom: 52px;
  position: relative;
}
</style>
