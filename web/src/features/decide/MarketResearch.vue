<script setup lang="ts">
import { computed, onUnmounted, ref, watch } from 'vue'
import { api, ApiProblem, value, type Schemas } from '@/api/client'
import { useJob, useJobs } from '@/api/queries'
import { showProblem } from '@/api/save'
import { useSelection } from '@/shared/selection'
import { thingIn } from '@/shared/tabs'
import ReportPage from '../listen/ReportPage.vue'

/** A question about the market: pages are looked for, and a report is drafted from them. */
const { product } = useSelection()
const { data: jobs, refetch } = useJobs(product)
const question = ref('')
const newest = computed(() => (jobs.value ?? []).filter((job) => job.kind === 'research').slice(0, 4))
const running = computed(() => newest.value.some((job) => job.state === 'queued' || job.state === 'running'))
const last = computed(() => newest.value.find((job) => job.state === 'done')?.id)
const { data: done } = useJob(last)
const report = computed(
  () => done.value?.report as { document?: number; blocks?: Schemas['Block'][] } | null | undefined,
)
const shown = ref(false)
let timer: ReturnType<typeof setInterval> | undefined
watch(
  running,
  (is) => {
    clearInterval(timer)
    if (is) timer = setInterval(() => void refetch(), 600)
  },
  { immediate: true },
)
onUnmounted(() => clearInterval(timer))

async function ask() {
  try {
    const body = { product: product.value, question: question.value }
    await value(api.POST('/api/v1/decide/market/research', { body }))
    question.value = ''
    await refetch()
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    showProblem(error.body)
  }
}
</script>

<template>
  <section data-research>
    <h2>Look into a question</h2>
    <form class="row-flex" @submit.prevent="ask">
      <input
        v-model="question"
        class="form-control"
        aria-label="A question about the market"
        placeholder="What do others take for a bicycle?"
        maxlength="300"
        required
      />
      <button type="submit" class="btn btn-primary">Look into it</button>
    </form>
    <ul class="small">
      <li v-for="job in newest" :key="job.id">
        {{ job.label }}: {{ job.state === 'done' ? 'drafted' : job.state
        }}<template v-if="job.problem">. {{ job.problem }}</template>
        <RouterLink v-if="job.id === last && report?.document" class="thing" :to="thingIn('document', report.document)"
          >Open the draft D{{ report.document }}</RouterLink
        >
        <button
          v-if="job.id === last && report?.blocks"
          type="button"
          class="btn btn-plain"
          :aria-expanded="shown"
          @click="shown = !shown"
        >
          {{ shown ? 'Fold it' : 'Read it here' }}
        </button>
      </li>
    </ul>
    <p class="small quiet">
      Pages come from a library that stands in for searching the web. What is drafted quotes only what stands in them,
      each with its source; it is a draft until somebody says otherwise.
    </p>
    <div v-if="shown && report?.blocks" class="guessed" data-draft>
      <b>draft</b>
      <ReportPage :blocks="report.blocks" />
    </div>
  </section>
</template>

<style scoped>
h2 {
  font-size: 16px;
}
ul {
  list-style: none;
  margin: 8px 0;
  padding: 0;
}
.form-control {
  flex: 1;
}
li > * {
  margin-left: 8px;
}
[data-draft] {
  overflow-x: auto;
}
</style>
