<script setup lang="ts">
import { reactive } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useSave } from '@/api/save'
import { today } from '@/shared/words'

/** What an increment came to, and whether that is what it should show. */
const props = defineProps<{ increment: Schemas['IncrementView'] }>()
const emit = defineEmits<{ done: [] }>()
const { save } = useSave()
const form = reactive({
  measure: props.increment.measure ?? '',
  unit: '',
  before: '' as number | '',
  after: '' as number | '',
  measured_on: today(),
  verdict: '' as '' | 'held' | 'unclear' | 'failed',
  note: '',
})

async function note() {
  const { idea_id, id } = props.increment
  const body = { idea_id, release_id: null, increment_id: id, set: { ...form } }
  if (await save(value(api.POST('/api/v1/learn/results', { body })))) emit('done')
}
</script>

<template>
  <form :aria-label="`What K${increment.id} came to`" @submit.prevent="note">
    <label>Measure <input v-model="form.measure" class="form-control" placeholder="what was counted" required /></label>
    <label>Unit <input v-model="form.unit" class="form-control short" placeholder="of 40" /></label>
    <label
      >Before <input v-model.number="form.before" class="form-control short" type="number" step="any" required
    /></label>
    <label
      >After <input v-model.number="form.after" class="form-control short" type="number" step="any" required
    /></label>
    <label>On <input v-model="form.measured_on" class="form-control" type="date" :max="today()" required /></label>
    <label
      >What it should show
      <select v-model="form.verdict" class="form-select" required>
        <option value="" disabled>choose</option>
        <option value="held">held</option>
        <option value="unclear">is unclear</option>
        <option value="failed">failed</option>
      </select>
    </label>
    <label class="wide"
      >Note <input v-model="form.note" class="form-control" placeholder="how it was measured"
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
  gap: 8px;
  margin: 6px 0;
}
.short {
  width: 86px;
}
.wide {
  flex: 1 1 200px;
}
</style>
