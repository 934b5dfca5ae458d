<script setup lang="ts">
import { computed, ref, shallowRef } from 'vue'
import { api, ApiProblem, value, type Schemas } from '@/api/client'
import { showProblem } from '@/api/save'
import { percent } from '@/shared/words'

/** Weights from comparing each criterion with each other one, and whether the comparisons agree. */
const props = defineProps<{ criteria: readonly Schemas['ScoreCriterion'][]; pairs: readonly number[] }>()
const emit = defineEmits<{ weigh: [weights: number[], pairs: number[]] }>()
const all = computed(() =>
  props.criteria.flatMap((one, n) => props.criteria.slice(n + 1).map((other, m) => ({ one, other, n, m: n + 1 + m }))),
)
const given = ref<number[]>([...props.pairs])
const at = (n: number) => given.value[n] ?? 1
const told = shallowRef<{ weights: number[]; ratio: number; doubtful?: readonly number[] | null }>()
const STEPS = [9, 7, 5, 3, 2, 1, 1 / 2, 1 / 3, 1 / 5, 1 / 7, 1 / 9]
const nearest = (value: number) =>
  STEPS.reduce((best, step) => (Math.abs(Math.log(step / value)) < Math.abs(Math.log(best / value)) ? step : best), 1)
const words = (step: number, one: string, other: string) => {
  if (step === 1) return 'weigh the same'
  const times = Math.round(step > 1 ? step : 1 / step)
  return `${step > 1 ? one : other} weighs ${times} times as much`
}
function set(n: number, event: Event) {
  const pairs = all.value.map((_, at) => given.value[at] ?? 1)
  pairs[n] = Number((event.target as HTMLSelectElement).value)
  given.value = pairs
}
async function weigh() {
  const pairs = all.value.map((_, n) => at(n))
  try {
    const body = { count: props.criteria.length, pairs }
    const weighed = await value(api.POST('/api/v1/decide/models/weights', { body }))
    told.value = weighed
    emit('weigh', weighed.weights, pairs)
  } catch (problem) {
    if (!(problem instanceof ApiProblem)) throw problem
    showProblem(problem.body)
  }
}
const doubtful = computed(() => {
  const [n, m] = told.value?.doubtful ?? []
  return n == null || m == null ? undefined : [props.criteria[n]?.label, props.criteria[m]?.label]
})
</script>

<template>
  <details class="pairs" data-pairs>
    <summary class="small">Find the weights by comparing two at a time</summary>
    <ul>
      <li v-for="(pair, n) in all" :key="`${pair.n} ${pair.m}`">
        <label class="row-flex"
          ><span>{{ pair.one.label }} and {{ pair.other.label }}</span>
          <select class="form-select" :value="nearest(at(n))" @change="set(n, $event)">
            <option v-for="step in STEPS" :key="step" :value="step">
              {{ words(step, pair.one.label, pair.other.label) }}
            </option>
          </select></label
        >
      </li>
    </ul>
    <button type="button" class="btn btn-outline" @click="weigh">Take these weights</button>
    <p v-if="told" class="small" role="status">
      {{ criteria.map((one, n) => `${one.label} ${percent(told?.weights[n] ?? 0)}`).join(', ') }}. Consistency ratio
      {{ told.ratio.toFixed(2) }}:
      <template v-if="told.ratio <= 0.1">the comparisons agree.</template>
      <template v-else
        >they do not agree well; look again at {{ doubtful?.join(' and ') }}. Up to 0.10 is taken as
        agreement.</template
      >
    </p>
  </details>
</template>

<style scoped>
.pairs {
  margin: 4px 0 8px;
}
summary {
  cursor: pointer;
  min-height: 24px;
}
ul {
  list-style: none;
  margin: 4px 0;
  padding: 0;
}
li .row-flex {
  flex-wrap: wrap;
  margin: 2px 0;
}
.form-select {
  width: 300px;
}
</style>
