<script setup lang="ts">
import { reactive } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useSave } from '@/api/save'
import { today } from '@/shared/words'
import { HELD } from './verdicts'

/** What an idea that is out, or one step of it, came to, and whether that is what was guessed. */
const props = defineProps<{
  idea: number
  release?: number
  increment?: number
  /** What was to be shown. */
  guess?: string | null
  /** How one would know. */
  knownBy?: string | null
  /** What was to be counted. */
  measure?: string | null
}>()
const emit = defineEmits<{ done: [] }>()
const { save } = useSave()
const form = reactive({
  measure: props.measure ?? '',
  unit: '',
  before: '' as number | '',
  after: '' as number | '',
  measured_on: today(),
  verdict: '' as '' | Schemas['Verdict'],
  note: '',
})
const name = props.increment ? `K${props.increment}` : `I${props.idea}`

async function note() {
  const body = {
    idea_id: props.idea,
    release_id: props.release ?? null,
    increment_id: props.increment ?? null,
    set: { ...form },
  }
  if (await save(value(api.POST('/api/v1/learn/results', { body })))) emit('done')
}
</script>

<template>
  <form :aria-label="`What ${name} came to`" @submit.prevent="note">
    <p v-if="guess || knownBy" class="small whole">
      <span class="quiet">To be shown:</span> {{ guess || 'nothing was written down' }}
      <template v-if="knownBy"><br /><span class="quiet">How we would know:</span> {{ knownBy }}</template>
    </p>
    <label class="wide"
      >Measure <input v-model="form.measure" class="form-control" placeholder="what was counted" required
    /></label>
    <label>Unit <input v-model="form.unit" class="form-control short" placeholder="a week" /></label>
    <label
      >Before <input v-model.number="form.before" class="form-control short" type="number" step="any" required
    /></label>
    <label
      >After <input v-model.number="form.after" class="form-control short" type="number" step="any" required
    /></label>
    <label>On <input v-model="form.measured_on" class="form-control" type="date" :max="today()" required /></label>
    <label
      >Is it what was to be shown?
      <select v-model="form.verdict" class="form-select" required>
        <option value="" disabled>choose</option>
        <option v-for="(words, verdict) in HELD" :key="verdict" :value="verdict">{{ words }}</option>
      </select>
    </label>
    <label class="wide"
      >Note
      <input v-model="form.note" class="form-control" placeholder="how it was measured, and what else may explain it"
    /></label>
    <button type="submit" class="btn btn-primary">Save the result</button>
    <button type="button" class="btn btn-plain" @click="emit('done')">Not now</button>
  </form>
</template>

<style scoped>
form {
  align-items: end;
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  margin: 6px 0;
}
.whole {
  flex: 1 0 100%;
  margin: 0;
}
.short {
  width: 96px;
}
.wide {
  flex: 1 1 240px;
}
</style>
