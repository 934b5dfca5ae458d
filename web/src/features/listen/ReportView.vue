<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, value } from '@/api/client'
import { takeout } from '@/api/files'
import { useRows } from '@/api/collections'
import { useReport } from '@/api/queries'
import { useSave } from '@/api/save'
import EmptyPlace from '@/shared/EmptyPlace.vue'
import { useSelection } from '@/shared/selection'
import StageFrame from '@/shared/StageFrame.vue'
import { LISTEN, listOf } from '@/shared/tabs'
import ReportPage from './ReportPage.vue'

/** A research report of chosen findings: what it is asked of stands in the address, so a link opens the same. */
const { product } = useSelection()
const route = useRoute()
const router = useRouter()
const { save } = useSave()
const one = (name: string) => {
  const found = route.query[name]
  return typeof found === 'string' && found ? found : undefined
}
const findings = computed(() => one('findings') ?? '')
const asked = computed(() => ({
  product: product.value,
  findings: findings.value,
  title: one('title'),
  question: one('question'),
  method: one('method'),
  study: one('study') ? Number(one('study')) : undefined,
  quotes: one('quotes') ? Number(one('quotes')) : undefined,
}))
const { data, error, isLoading } = useReport(asked, () => findings.value !== '')
const { data: studies } = useRows(() => ({
  collection: 'study',
  product: product.value,
  query: { fields: ['title'] },
  limit: 200,
}))
const title = ref(one('title') ?? '')
const question = ref(one('question') ?? '')
const method = ref(one('method') ?? '')
const set = (change: Record<string, string | undefined>) => router.replace({ query: { ...route.query, ...change } })
let wait: ReturnType<typeof setTimeout> | undefined
watch([title, question, method], ([title, question, method]) => {
  clearTimeout(wait)
  const change = { title: title || undefined, question: question || undefined, method: method || undefined }
  wait = setTimeout(() => void set(change), 400)
})
const address = (form: 'md' | 'docx') => takeout.report(form, asked.value)
const print = () => window.print()

const kept = ref<number>()
async function keepAsPage() {
  const body = await value(api.GET('/api/v1/takeout/report.md', { params: { query: asked.value }, parseAs: 'text' }))
  const set = { title: data.value?.title ?? 'Report', body }
  const done = await save(
    value(
      api.POST('/api/v1/collections/{collection}/things', {
        params: { path: { collection: 'page' } },
        body: { product: product.value, set },
      }),
    ),
  )
  kept.value = done?.thing?.id
}
</script>

<template>
  <StageFrame :tabs="LISTEN" :busy="isLoading" :problem="error?.message">
    <div class="report">
      <EmptyPlace v-if="!findings" title="A report of which findings?">
        Choose findings in <RouterLink :to="listOf('finding')">their list</RouterLink> and press “Make a report”.
      </EmptyPlace>
      <template v-else>
        <form class="ask" @submit.prevent>
          <label>
            Title
            <input v-model="title" class="form-control" maxlength="200" :placeholder="data?.title" />
          </label>
          <label>
            Study
            <select
              class="form-select"
              :value="asked.study ?? ''"
              @change="set({ study: ($event.target as HTMLSelectElement).value || undefined })"
            >
              <option value="">none</option>
              <option v-for="study in studies?.rows" :key="study.id" :value="study.id">{{ study.title }}</option>
            </select>
          </label>
          <label>
            Quotes of each
            <select
              class="form-select"
              :value="asked.quotes ?? 3"
              @change="set({ quotes: ($event.target as HTMLSelectElement).value })"
            >
              <option v-for="many in [1, 2, 3, 5, 8, 10]" :key="many" :value="many">{{ many }}</option>
            </select>
          </label>
          <label class="wide">
            Question
            <input v-model="question" class="form-control" maxlength="600" placeholder="What was to be found out" />
          </label>
          <label class="wide">
            Method
            <input v-model="method" class="form-control" maxlength="600" placeholder="How people were asked or heard" />
          </label>
          <div class="row-flex wide">
            <a class="btn btn-primary" :href="address('docx')" download>Keep as DOCX</a>
            <a class="btn btn-outline" :href="address('md')" download>as Markdown</a>
            <button type="button" class="btn btn-outline" @click="print">Print</button>
            <button type="button" class="btn btn-outline" @click="keepAsPage">Keep as a page here</button>
            <RouterLink v-if="kept" class="thing" :to="listOf('page', { at: `page:${kept}` })"
              >Open the page</RouterLink
            >
          </div>
        </form>
        <ReportPage v-if="data" :blocks="data.blocks" />
      </template>
    </div>
  </StageFrame>
</template>

<style scoped>
.report {
  padding: 12px 16px 60px;
}
.ask {
  display: grid;
  gap: 8px 14px;
  grid-template-columns: 2fr 2fr 1fr;
  margin-bottom: 14px;
  max-width: 860px;
}
.wide {
  grid-column: 1 / -1;
}
.row-flex {
  flex-wrap: wrap;
}
@media (max-width: 600px) {
  .ask {
    grid-template-columns: 1fr;
  }
}
@media print {
  .ask {
    display: none;
  }
}
</style>
