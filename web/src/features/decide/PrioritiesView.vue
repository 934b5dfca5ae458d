<script setup lang="ts">
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, value } from '@/api/client'
import { takeout } from '@/api/files'
import { useModels, usePrioritisation, usePrioritisations } from '@/api/queries'
import { useSave } from '@/api/save'
import AddLine from '@/shared/AddLine.vue'
import EditField from '@/shared/EditField.vue'
import EmptyPlace from '@/shared/EmptyPlace.vue'
import { useSelection } from '@/shared/selection'
import StageFrame from '@/shared/StageFrame.vue'
import { DECIDE } from '@/shared/tabs'
import { day } from '@/shared/words'
import RankedBy from './RankedBy.vue'
import ReportPage from '../listen/ReportPage.vue'

/** Prioritisation reports: each follows the present numbers until it is agreed, and keeps them then. */
const { product } = useSelection()
const route = useRoute()
const router = useRouter()
const { save, edit } = useSave()
const { data: all, error, isPending } = usePrioritisations(product)
const { data: models } = useModels(product)
const opened = computed(() => Number(route.params.id) || all.value?.[0]?.id)
const { data: one, error: trouble } = usePrioritisation(opened)
const open = (id: number) => router.push({ name: 'priorities', params: { product: product.value, id } })

async function begin(title: string) {
  const body = { product: product.value, title, question: null, model: null, top: 3 }
  const saved = await save(value(api.POST('/api/v1/decide/prioritisations', { body })))
  if (saved?.thing) await open(saved.thing.id)
  return saved
}
const set = (change: Record<string, unknown>) =>
  one.value && edit({ kind: 'prioritisation', id: one.value.id }, one.value, change)
const agree = () =>
  one.value &&
  save(
    value(
      api.POST('/api/v1/decide/prioritisations/{id}/agreement', {
        params: { path: { id: one.value.id }, query: { rev: one.value.rev } },
      }),
    ),
  )
const print = () => window.print()
</script>

<template>
  <StageFrame :tabs="DECIDE" :busy="isPending" :problem="(error ?? trouble)?.message">
    <div v-if="all" class="reports" data-priorities>
      <nav aria-label="Reports" class="no-print">
        <RouterLink class="btn btn-plain" :to="{ name: 'ranking' }">Ranking</RouterLink>
        <ul>
          <li v-for="it in all" :key="it.id">
            <RouterLink
              :to="{ name: 'priorities', params: { product, id: it.id } }"
              :aria-current="it.id === opened ? 'page' : undefined"
              >{{ it.title }}</RouterLink
            >
            <span class="small quiet">{{
              it.agreed_on ? `agreed on ${day(it.agreed_on)}` : 'follows the numbers'
            }}</span>
          </li>
        </ul>
      </nav>
      <AddLine
        v-if="all"
        class="begin no-print"
        name="A new report"
        placeholder="such as: the first quarter"
        action="Begin a report"
        :add="begin"
      />
      <EmptyPlace v-if="!all.length" title="No report yet">
        A report says what is asked, how ideas were scored, what is recommended and how sure that is, and what to find
        out next. Begin one with a name.
      </EmptyPlace>
      <div v-else-if="one" class="one">
        <div v-if="!one.agreed_on" class="edit no-print">
          <div>
            <span class="small quiet">The question</span>
            <EditField
              :value="one.question"
              label="The question"
              placeholder="what is to be decided"
              wrap
              @save="(to) => set({ question: to })"
            />
          </div>
          <div>
            <span class="small quiet">What we recommend, in our words</span>
            <EditField
              :value="one.recommendation"
              label="What we recommend"
              placeholder="what the numbers do not say"
              wrap
              @save="(to) => set({ recommendation: to })"
            />
          </div>
          <RankedBy
            v-if="models"
            :models="models"
            :model="models.find((it) => it.key === one?.model)"
            :top="one.top"
            of="report"
            @by="set"
          />
        </div>
        <div class="row-flex no-print">
          <button v-if="!one.agreed_on" type="button" class="btn btn-primary" @click="agree">
            Agree, and keep these numbers
          </button>
          <a class="btn btn-plain" :href="takeout.prioritisation(one.id, 'md')">Markdown</a>
          <a class="btn btn-plain" :href="takeout.prioritisation(one.id, 'docx')">DOCX</a>
          <button type="button" class="btn btn-plain" @click="print">Print</button>
        </div>
        <ReportPage :blocks="one.blocks" />
      </div>
    </div>
  </StageFrame>
</template>

<style scoped>
.reports {
  display: grid;
  gap: 8px 24px;
  grid-template-columns: 200px minmax(0, 1fr);
  padding: 10px 16px 40px;
}
nav {
  grid-row: span 2;
}
nav ul {
  list-style: none;
  margin: 8px 0 0;
  padding: 0;
}
nav li {
  display: grid;
  margin: 0 0 10px;
}
nav a[aria-current] {
  font-weight: 700;
}
.begin {
  justify-self: start;
}
.one {
  grid-column: 2;
  display: grid;
  gap: 10px;
  justify-items: start;
}
.edit {
  display: grid;
  gap: 8px;
  max-width: 860px;
  width: 100%;
}
@media (max-width: 760px) {
  .reports {
    grid-template-columns: minmax(0, 1fr);
  }
  .one {
    grid-column: 1;
  }
}
</style>
