<script setup lang="ts">
import { computed, reactive, ref, useTemplateRef } from 'vue'
import type { Schemas } from '@/api/client'
import { useFields } from '@/api/collections'
import { line } from '@/api/save'
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
/** What is wrong, by its place in the definition. */
const faults = ref<{ field: string; words: string }[]>([])
const formulaField = useTemplateRef<HTMLInputElement>('formulaField')
const at = (place: string) => faults.value.find((one) => one.field === `/definition${place}`)?.words
const faultOf = (n: number) => {
  const found = faults.value.filter((one) => one.field.startsWith(`/definition/criteria/${n}/`))
  return found.map((one) => one.words).join(' ')
}
const others = computed(() => faults.value.filter((one) => !/formula|worth|criteria/.test(one.field)))

async function send() {
  faults.value = []
  if (await props.keep(definition())) return
  faults.value = line.problem?.faults ?? []
  // The caret goes to the place of the fault.
  const place = Number(/At character (\d+)/.exec(at('/formula') ?? '')?.[1])
  if (place) {
    formulaField.value?.focus()
    formulaField.value?.setSelectionRange(place - 1, place)
  }
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
  <form data-model @submit.prevent="send">
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
      :fault="faultOf(n)"
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
        <input
          ref="formulaField"
          v-model="of.formula"
          class="form-control"
          aria-label="Formula"
          aria-describedby="formula-fault"
          spellcheck="false"
        />
        <span v-if="at('/formula')" id="formula-fault" class="small" role="alert">{{ at('/formula') }}</span></label
      >
      <PairWeights v-else :criteria="of.criteria" :pairs="of.pairs ?? []" @weigh="weigh" />
      <label class="wide"
        ><span class="small quiet">Worth without what it costs, for a budget; empty is the score</span>
        <input v-model="of.worth" class="form-control" aria-label="Worth" spellcheck="false" />
        <span v-if="at('/worth')" class="small" role="alert">{{ at('/worth') }}</span></label
      >
      <p v-for="one in others" :key="one.words" class="small" role="alert">{{ one.words }}</p>
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
