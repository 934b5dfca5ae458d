<script setup lang="ts">
import { computed, onUnmounted, ref, watch } from 'vue'
import { api, ApiProblem, value, type Schemas } from '@/api/client'
import { useRun, useRuns } from '@/api/queries'
import { showDone, showProblem } from '@/api/save'
import EmptyPlace from '@/shared/EmptyPlace.vue'
import { useSelection } from '@/shared/selection'
import StageFrame from '@/shared/StageFrame.vue'
import { LISTEN } from '@/shared/tabs'
import JobProgress from './JobProgress.vue'
import RunChanges from './RunChanges.vue'
import RunList from './RunList.vue'

/** Findings are suggested by runs: each says beforehand what it would change, and is taken or left. */
type Strictness = Schemas['Strictness']
const { product } = useSelection()
const { data: runs, error, isPending, refetch } = useRuns(product)
const strictness = ref<Strictness>('even')
const opened = ref<number>()
const LEVELS: readonly [Strictness, string, string][] = [
  ['loose', 'Wide', 'fewer, broader'],
  ['even', 'Middling', ''],
  ['strict', 'Narrow', 'more, narrower'],
]
const isOver = (run: Schemas['RunLine']) => run.state !== 'queued' && run.state !== 'running'
const shown = computed(() => opened.value ?? runs.value?.find((run) => run.state === 'done')?.id)
const line = computed(() => runs.value?.find((run) => run.id === shown.value))
const { data: run } = useRun(() => (line.value?.state === 'done' ? line.value.id : undefined))

/** Whether there is something to be taken, which then is what is next. */
const waits = computed(() => line.value?.state === 'done' && line.value.taken == null)

/** Work that was begun here: a run that is tried, or one that is taken. */
const working = ref<number>()
const trouble = ref<string>()
const EVERY = 600
/** What is under way, as it was last seen. */
const seen = ref<Schemas['JobView']>()
const ongoing = computed(() => runs.value?.find((one) => !isOver(one)) ?? (working.value ? seen.value : undefined))
const going = computed(() => working.value !== undefined || runs.value?.some((one) => !isOver(one)))
let timer: ReturnType<typeof setInterval> | undefined
watch(
  going,
  (is) => {
    clearInterval(timer)
    if (is) timer = setInterval(() => void look(), EVERY)
  },
  { immediate: true },
)
onUnmounted(() => clearInterval(timer))

async function look() {
  const id = working.value
  const job = id === undefined ? undefined : await value(api.GET('/api/v1/jobs/{id}', { params: { path: { id } } }))
  seen.value = job
  await refetch()
  if (!job || job.state === 'queued' || job.state === 'running') return
  // What was asked may be older than the end of the job; then it is asked again.
  const known = runs.value?.some((one) => one.id === job.id && isOver(one)) || line.value?.taken != null
  if (job.state === 'done' && !known) return
  working.value = undefined
  trouble.value = job.problem ?? undefined
  if (job.state !== 'done') return
  if (job.kind === 'group') opened.value = job.id
  else if (job.change != null) showDone(job.change, 'took what the run suggests')
}

async function begin(work: Promise<Schemas['JobView']>) {
  trouble.value = undefined
  try {
    seen.value = await work
    working.value = seen.value.id
    await refetch()
  } catch (problem) {
    if (!(problem instanceof ApiProblem)) throw problem
    showProblem(problem.body)
  }
}

const tryOne = () =>
  begin(value(api.POST('/api/v1/listen/runs', { body: { product: product.value, strictness: strictness.value } })))
const take = (leave: number[]) =>
  begin(
    value(
      api.POST('/api/v1/listen/runs/{id}/take', { params: { path: { id: shown.value as number } }, body: { leave } }),
    ),
  )
</script>

<template>
  <StageFrame :tabs="LISTEN" :busy="isPending" :problem="error?.message">
    <div class="grouping">
      <form class="row-flex" @submit.prevent="tryOne">
        <fieldset class="row-flex">
          <legend>Group excerpts that mean the same</legend>
          <label v-for="[level, name, words] in LEVELS" :key="level">
            <input v-model="strictness" type="radio" name="strictness" :value="level" /> {{ name }}
            <span class="small quiet">{{ words }}</span>
          </label>
        </fieldset>
        <button type="submit" class="btn" :class="waits ? 'btn-outline' : 'btn-primary'" :disabled="going">
          Try it
        </button>
      </form>
      <p class="small quiet">
        Nothing changes before you take it. What people accepted, named, merged, split, moved, threw out or kept apart
        stays as it is.
      </p>
      <p v-if="trouble" class="problem" role="alert">{{ trouble }}</p>
      <div v-if="going" class="row-flex at-work">
        <span role="status">The engine is at work …</span>
        <JobProgress v-if="ongoing" :job="ongoing" label="How far the engine is" @cancelled="look" />
      </div>
      <RunList v-if="runs?.length" :runs="runs" :shown="shown" @open="opened = $event" />
      <EmptyPlace v-else-if="runs && !going" title="No findings were suggested yet">
        Bring feedback in; when it is read, findings are suggested here by themselves. Or try it now.
      </EmptyPlace>
      <RunChanges
        v-if="run && line?.state === 'done'"
        :key="run.id"
        :run="run"
        :taken="line.taken != null"
        :busy="going ?? false"
        @take="take"
      />
    </div>
  </StageFrame>
</template>

<style scoped>
.grouping {
  padding: 12px 16px 60px;
}
.at-work {
  flex-wrap: wrap;
  min-height: 40px;
}
form {
  flex-wrap: wrap;
  gap: 10px 24px;
  margin-bottom: 8px;
}
fieldset {
  border: 0;
  flex-wrap: wrap;
  gap: 4px 20px;
  margin: 0;
  padding: 0;
}
legend {
  float: left;
  font-size: 15px;
  font-weight: 650;
  margin-right: 6px;
  width: auto;
}
label {
  min-height: 24px;
}
</style>
