<script setup lang="ts">
import { computed, ref, watchEffect } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, value } from '@/api/client'
import { useFindingExcerpts, useFindings } from '@/api/queries'
import { useSave } from '@/api/save'
import EditField from '@/shared/EditField.vue'
import { useSelection } from '@/shared/selection'
import SpreadBar from '@/shared/SpreadBar.vue'
import StageFrame from '@/shared/StageFrame.vue'
import WeekBars from '@/shared/WeekBars.vue'
import { count, money } from '@/shared/words'
import ExcerptLine from './ExcerptLine.vue'
import { LISTEN } from '@/shared/tabs'

const { product, selected, select } = useSelection()
const route = useRoute()
const router = useRouter()
const { save, edit } = useSave()
const id = computed(() => Number(route.params.id))
const { data: findings } = useFindings(product)
const { data: excerpts, error, isPending } = useFindingExcerpts(id)
const finding = computed(() => findings.value?.find((one) => one.id === id.value))
const chosen = ref<number[]>([])
watchEffect(() => {
  if (!selected.value && id.value) select('finding', id.value)
})

function choose(excerpt: number, on: boolean) {
  chosen.value = on ? [...chosen.value, excerpt] : chosen.value.filter((one) => one !== excerpt)
}

async function takeAway() {
  const change = { params: { path: { id: id.value } }, body: { add: [], remove: chosen.value } }
  if (await save(value(api.POST('/api/v1/listen/findings/{id}/excerpts', change)))) chosen.value = []
}

async function makeIdea() {
  const body = { product_id: product.value, title: finding.value?.title ?? '', finding_id: id.value }
  const saved = await save(value(api.POST('/api/v1/decide/ideas', { body })))
  if (saved?.thing) await router.push({ name: 'ranking', query: { at: `idea:${saved.thing.id}` } })
}
</script>

<template>
  <StageFrame :tabs="LISTEN" :busy="isPending" :problem="error?.message">
    <template #tools>
      <button v-if="chosen.length" type="button" class="btn btn-outline" @click="takeAway">
        Take {{ chosen.length }} away
      </button>
      <RouterLink class="btn btn-outline" :to="{ name: 'feedback' }">Look for more</RouterLink>
      <button type="button" class="btn btn-primary" @click="makeIdea">Make an idea of it</button>
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
      </div>
      <EditField
        :value="finding.note"
        label="Note"
        placeholder="What else is to be known"
        wrap
        @save="edit({ kind: 'finding', id }, finding, { note: $event })"
      />
      <h2>{{ count(excerpts?.length ?? 0, 'excerpt') }}</h2>
      <ul>
        <ExcerptLine
          v-for="excerpt in excerpts"
          :key="excerpt.id"
          :excerpt="excerpt"
          :chosen="chosen.includes(excerpt.id)"
          where
          @choose="choose(excerpt.id, $event)"
        />
      </ul>
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
h2 {
  font-size: 15px;
  margin: 16px 0 8px;
}
.facts {
  gap: 20px;
  margin-bottom: 8px;
}
ul {
  display: grid;
  gap: 8px;
  list-style: none;
  margin: 0;
  padding: 0;
}
</style>
