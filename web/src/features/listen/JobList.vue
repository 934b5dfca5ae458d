<script setup lang="ts">
import { computed, onUnmounted, ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { useJobs } from '@/api/queries'
import { useSelection } from '@/shared/selection'
import { moment } from '@/shared/words'
import ImportReports from './ImportReports.vue'
import JobProgress from './JobProgress.vue'

/** What is being brought in, how far it is, and what came of what is over. */
const props = defineProps<{ started?: number }>()
type Job = Schemas['JobView']
const { product } = useSelection()
const { data: jobs, refetch } = useJobs(product)
const opened = ref<number>()

const isOver = (job: Job) => job.state !== 'queued' && job.state !== 'running'
const running = computed(() => jobs.value?.some((job) => !isOver(job)) ?? false)
const EVERY = 700
let timer: ReturnType<typeof setInterval> | undefined
watch(
  running,
  (is) => {
    clearInterval(timer)
    if (is) timer = setInterval(() => void refetch(), EVERY)
  },
  { immediate: true },
)
/** What somebody has just begun opens when it is done, however fast that was. */
const begun = computed(() => jobs.value?.find((job) => job.id === props.started))
watch(
  () => begun.value?.state,
  (state) => {
    if (state === 'done') opened.value = props.started
  },
)
onUnmounted(() => clearInterval(timer))

const WORDS: Record<Job['state'], string> = {
  queued: 'waits',
  running: 'runs',
  done: 'done',
  failed: 'failed',
  cancelled: 'cancelled',
  interrupted: 'interrupted as the program ended',
}
/** Only what brings something in has a report of what it brought. */
const brings = (job: Job) => job.kind === 'bring_in' || job.kind === 'look'
/** Where that which came of the rest is seen. */
const SEE: Partial<Record<Job['kind'], string>> = { group: '; see Suggestions', research: '; see Market' }
/** What became of what it had written; where it could not be taken back, the job says so itself. */
function after(job: Job): string {
  if (job.state === 'done') return SEE[job.kind] ?? ''
  if (job.problem) return `. ${job.problem}`
  return `; what it had written was taken back${job.state === 'interrupted' && brings(job) ? '. Bring the files in again.' : ''}`
}
</script>

<template>
  <section v-if="jobs?.length" class="jobs" aria-label="What was brought in and read">
    <h2>Brought in and read</h2>
    <ul>
      <li v-for="job in jobs" :key="job.id" :data-job="job.state">
        <div class="row-flex">
          <b>{{ job.label }}</b>
          <span class="small quiet">{{ moment(job.asked_at) }}</span>
          <template v-if="isOver(job)">
            <span class="small">{{ WORDS[job.state] }}{{ after(job) }}</span>
            <button
              v-if="job.state === 'done' && brings(job)"
              type="button"
              class="btn btn-plain"
              :aria-expanded="opened === job.id"
              @click="opened = opened === job.id ? undefined : job.id"
            >
              {{ opened === job.id ? 'Fold' : 'Report' }}
            </button>
          </template>
          <JobProgress v-else :job="job" :label="job.label" @cancelled="refetch()" />
        </div>
        <ImportReports v-if="opened === job.id" :id="job.id" />
      </li>
    </ul>
  </section>
</template>

<style scoped>
.jobs {
  border-top: 1px solid var(--rule);
  margin-top: 24px;
  padding-top: 10px;
}
h2 {
  font-size: 16px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  padding: 4px 0;
}
.row-flex {
  flex-wrap: wrap;
}
</style>
