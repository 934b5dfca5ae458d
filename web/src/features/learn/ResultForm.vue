<script setup lang="ts">
import { reactive } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useSave } from '@/api/save'
import { today } from '@/shared/words'

/** A result on an idea that is out: measure, before, after. */
const props = defineProps<{ idea: Schemas['IdeaOut'] }>()
const emit = defineEmits<{ done: [] }>()
const { save } = useSave()
const form = reactive({
  measure: '',
  unit: '',
  before: '' as number | '',
  after: '' as number | '',
  measured_on: today(),
  note: '',
})

async function note() {
  const body = { idea_id: props.idea.idea_id, release_id: props.idea.release_id, set: { ...form } }
  if (await save(value(api.POST('/api/v1/learn/results', { body })))) emit('done')
}
</script>

<template>
  <form @submit.prevent="note">
    <label>Measure <input v-model="form.measure" class="form-control" placeholder="what was counted" required /></label>
    <label>Unit <input v-model="form.unit" class="form-control" placeholder="a week" /></label>
    <label>Before <input v-model.number="form.before" class="form-control" type="number" step="any" required /></label>
    <label>After <input v-model.number="form.after" class="form-control" type="number" step="any" required /></label>
    <label>On <input v-model="form.measured_on" class="form-control" type="date" required /></label>
    <label class="wide"
      >Note
      <input v-model="form.note" class="form-control" placeholder="how it was measured, and what else may explain it"
    /></label>
    <button type="submit" class="btn btn-primary">Save the result</button>
  </form>
</template>

<style scoped>
form {
  align-items: end;
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
}
.wide {
  flex: 1 1 260px;
}
</style>
