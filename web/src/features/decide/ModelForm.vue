<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { useFields } from '@/api/collections'
import CriterionForm from './CriterionForm.vue'
import PairWeights from './PairWeights.vue'
import type { Model } from './scores'

/** A scoring model: its criteria, its formula, and the weights; one that comes with the product is only read. */
type Definition = Schemas['ModelDefinition']
const props = defineProps<{ model: Model; keep: (to: Definition) => Promise<unknown> }>()
const of = reactive<Definition>(structuredClone(JSON.parse(JSON.stringify(props.model.definition)) as Definition))
const locked = computed(() => props.model.id == null)
const { data: fields } = useFields(ref('idea' as const))
const numbers = computed(() => (fields.value ?? []).filter((one) => one.shape === 'number' && !one.retired))
const sum = ref(of.formula == null)
const changed = computed(() => JSON.stringify(definition()) !== JSON.stringify(props.model.definition))

/** What is kept: the weighted sum has no formula of its own. */
function definition(): Definition {
  const formula = sum.value ? null : (of.formula ?? '')
  return { ...of, formula, worth: of.worth || null, pairs: sum.value ? of.pairs : [] }
}
function add() {
  const free = numbers.value.find((field) => !of.criteria.some((one) => one.field === field.name))
  if (!free) return
  const { name, label } = free
  of.criteria.push({
    key: name,
    label,
    field: name,
    unit: null,
    low: 0,
    high: 10,
    better: 'more',
    weight: 1,
    steps: [],
    ease: [],
  })
  of.pairs = []
}
function drop(at: number) {
  of.criteria.splice(at, 1)
  of.pairs = []
}
function weigh(weights: number[], pairs: number[]) {
  of.criteria.forEach((one, n) => (one.weight = Math.round((weights[n] ?? 0) * 1000) / 10))
  of.pairs = pairs
}
</script>

<template>
  <form data-model @submit.prevent="keep(definition())">
    <label v-if="!locked" class="title"
      ><span class="small quiet">Name</span> <input v-model="of.title" class="form-control" required maxlength="80"
    /></label>
    <h3>Criteria</h3>
    <CriterionForm
      v-for="(one, n) in of.criteria"
      :key="n"
      :criterion="one"
      :fields="numbers"
      :locked="locked"
      :weighted="sum"
      @drop="drop(n)"
    />
    <button v-if="!locked && of.criteria.length < 10" type="button" class="btn btn-outline" @click="add">
      Add a criterion
    </button>
    <h3>Score</h3>
    <template v-if="locked">
      <p>
        <code data-formula>{{ model.formula }}</code>
      </p>
      <p v-if="of.worth" class="small quiet">
        Worth, within a budget: <code>{{ of.worth }}</code>
      </p>
    </template>
    <template v-else>
      <label class="row-flex"
        ><input v-model="sum" type="radio" name="sum" :value="true" /> the weighted sum of where each criterion lies on
        its scale, of 100</label
      >
      <label class="row-flex"><input v-model="sum" type="radio" name="sum" :value="false" /> a formula</label>
      <label v-if="!sum" class="wide"
        ><span class="small quiet"
          >+ − × ÷ ^ and brackets; min, max, abs, sqrt, ln, log; share(x) is where x lies on its scale, 0 to 1, worst(x)
          and best(x) its ends</span
        >
        <input v-model="of.formula" class="form-control" aria-label="Formula" spellcheck="false"
      /></label>
      <PairWeights v-else :criteria="of.criteria" :pairs="of.pairs ?? []" @weigh="weigh" />
      <label class="wide"
        ><span class="small quiet">Worth without what it costs, for a budget; empty is the score</span>
        <input v-model="of.worth" class="form-control" aria-label="Worth" spellcheck="false"
      /></label>
      <button type="submit" class="btn btn-primary" :disabled="!changed">
        Keep it as version {{ (model.rev ?? 0) + 1 }}
      </button>
    </template>
  </form>
</template>

<style scoped>
h3 {
  font-size: 15px;
  margin: 14px 0 4px;
}
label {
  margin: 2px 0;
}
.title .form-control {
  width: 260px;
}
.wide {
  display: block;
  margin: 4px 0 10px;
  max-width: 760px;
}
</style>
