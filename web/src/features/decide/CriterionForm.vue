<script setup lang="ts">
import type { FieldDef } from '@/api/collections'
import type { Schemas } from '@/api/client'

/** One criterion: the field that holds it, its name in the formula, its scale with what the steps stand for, its weight. */
const props = defineProps<{
  criterion: Schemas['ScoreCriterion']
  fields: readonly FieldDef[]
  locked: boolean
  weighted: boolean
  fault?: string
}>()
const emit = defineEmits<{ drop: [] }>()
// The form above owns the criterion; this is a part of it.
const one = props.criterion

function choose(event: Event) {
  one.field = (event.target as HTMLSelectElement).value
}
const number = (event: Event) => {
  const text = (event.target as HTMLInputElement).value
  return text === '' ? null : Number(text)
}
const isComputed = () => !props.fields.find((field) => field.name === one.field)?.editable
</script>

<template>
  <fieldset :data-criterion="one.key">
    <template v-if="locked">
      <b>{{ one.label }}</b> <code>{{ one.key }}</code>
      <span class="small quiet">
        <template v-if="one.unit">, {{ one.unit }}</template>
        <template v-if="one.low != null && one.high != null">, {{ one.low }} to {{ one.high }}</template
        >, {{ one.better }} is better<template v-if="weighted">, weight {{ one.weight }}</template
        ><template v-if="one.ease?.length">, from the effort by a table</template
        ><template v-else-if="isComputed()">, computed</template>
      </span>
      <ul v-if="one.steps?.length" class="small">
        <li v-for="step in one.steps" :key="step.value">{{ step.value }}: {{ step.help }}</li>
      </ul>
      <p v-if="one.ease?.length" class="small quiet">
        {{ one.ease.map((step) => `up to ${step.up_to} person-weeks: ${step.ease}`).join('; ') }}
      </p>
    </template>
    <template v-else>
      <div class="row-flex">
        <label><span class="small quiet">Name</span> <input v-model="one.label" class="form-control" required /></label>
        <label
          ><span class="small quiet">in the formula</span>
          <input v-model="one.key" class="form-control short" spellcheck="false" required
        /></label>
        <label
          ><span class="small quiet">held by the field</span>
          <select class="form-select" :value="one.field" @change="choose">
            <option v-for="field in fields" :key="field.name" :value="field.name">
              {{ field.label }}{{ field.editable ? '' : ' (computed)' }}
            </option>
          </select></label
        >
        <label
          ><span class="small quiet">Unit</span>
          <input
            class="form-control short"
            :value="one.unit"
            @change="one.unit = ($event.target as HTMLInputElement).value || null"
        /></label>
        <label
          ><span class="small quiet">Scale from</span>
          <input
            class="form-control number"
            type="number"
            step="any"
            :value="one.low"
            @change="one.low = number($event)"
        /></label>
        <label
          ><span class="small quiet">to</span>
          <input
            class="form-control number"
            type="number"
            step="any"
            :value="one.high"
            @change="one.high = number($event)"
        /></label>
        <label
          ><span class="small quiet">Better is</span>
          <select v-model="one.better" class="form-select number">
            <option value="more">more</option>
            <option value="less">less</option>
          </select></label
        >
        <label v-if="weighted"
          ><span class="small quiet">Weight</span>
          <input v-model.number="one.weight" class="form-control number" type="number" min="0" step="any"
        /></label>
        <button type="button" class="btn btn-plain" :aria-label="`Drop ${one.label}`" @click="emit('drop')">
          drop
        </button>
      </div>
      <p v-if="fault" class="small" role="alert">{{ fault }}</p>
      <details class="small">
        <summary class="quiet">What the steps stand for, and a table</summary>
        <p class="quiet">When an idea has which value</p>
        <div v-for="(step, n) in one.steps" :key="n" class="row-flex">
          <input v-model.number="step.value" class="form-control number" type="number" step="any" aria-label="Value" />
          <input v-model="step.help" class="form-control wide" aria-label="What it stands for" />
          <button type="button" class="btn btn-plain" @click="one.steps?.splice(n, 1)">drop</button>
        </div>
        <button type="button" class="btn btn-plain" @click="(one.steps ??= []).push({ value: 0, help: '' })">
          Add a step
        </button>
        <p class="quiet">Where the value follows from the field by a table: up to so much, so easy</p>
        <div v-for="(step, n) in one.ease" :key="n" class="row-flex">
          <input v-model.number="step.up_to" class="form-control number" type="number" step="any" aria-label="Up to" />
          <input v-model.number="step.ease" class="form-control number" type="number" step="any" aria-label="Ease" />
          <button type="button" class="btn btn-plain" @click="one.ease?.splice(n, 1)">drop</button>
        </div>
        <button type="button" class="btn btn-plain" @click="(one.ease ??= []).push({ up_to: 0, ease: 0 })">
          Add a line
        </button>
      </details>
    </template>
  </fieldset>
</template>

<style scoped>
fieldset {
  border-top: 1px solid var(--rule);
  padding: 6px 0;
}
.row-flex {
  align-items: end;
  flex-wrap: wrap;
  gap: 4px 10px;
}
label {
  display: grid;
}
.form-control {
  width: 160px;
}
.form-control.short {
  width: 110px;
}
.form-control.number,
.form-select.number {
  width: 86px;
}
.form-control.wide {
  width: 300px;
}
.form-select {
  width: 170px;
}
ul,
p {
  margin: 2px 0;
  padding-left: 18px;
}
summary {
  cursor: pointer;
  min-height: 24px;
}
</style>
