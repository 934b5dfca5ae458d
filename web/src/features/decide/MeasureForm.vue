<script setup lang="ts">
import { reactive, ref } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useSave } from '@/api/save'
import PopPanel from '@/shared/PopPanel.vue'
import { count, today } from '@/shared/words'

/** Notes what was measured: one value, or a table of days and values. */
const props = defineProps<{ id: number; unit?: string }>()
const { save } = useSave()
const form = reactive({ value: '', taken_on: today(), note: '' })
const open = ref(false)
const text = ref('')
const read = ref<Schemas['MeasurementsRead']>()
const params = () => ({ path: { id: props.id } })

async function note() {
  const body = { value: Number(form.value), taken_on: form.taken_on, note: form.note || null }
  const path = '/api/v1/decide/objectives/{id}/measurements'
  if (await save(value(api.POST(path, { params: params(), body })))) Object.assign(form, { value: '', note: '' })
}
async function bringIn() {
  const path = '/api/v1/decide/objectives/{id}/measurements/table'
  read.value = await save(value(api.POST(path, { params: params(), body: { text: text.value } })))
  if (read.value) text.value = ''
}
async function take(field: HTMLInputElement) {
  const file = field.files?.[0]
  if (file) text.value = await file.text()
  field.value = ''
}
</script>

<template>
  <form class="row-flex" aria-label="Note what was measured" @submit.prevent="note">
    <label
      ><span class="small quiet">Measured{{ unit ? `, ${unit}` : '' }}</span>
      <input v-model="form.value" class="form-control short" type="number" step="any" required
    /></label>
    <label
      ><span class="small quiet">on</span>
      <input v-model="form.taken_on" class="form-control day" type="date" :max="today()" required
    /></label>
    <label class="grow"
      ><span class="small quiet">Note</span> <input v-model="form.note" class="form-control" placeholder="how"
    /></label>
    <button type="submit" class="btn btn-primary">Note it</button>
    <PopPanel v-model="open" label="Bring in a table">
      <div class="table">
        <label
          ><span class="small">A column of days and one of numbers, pasted from a sheet or from a CSV file</span>
          <textarea v-model="text" class="form-control" rows="6" placeholder="2026-03-02&#9;31"></textarea>
        </label>
        <div class="row-flex">
          <label class="btn btn-outline file"
            >Take a file
            <input
              class="visually-hidden"
              type="file"
              accept=".csv,.tsv,.txt"
              @change="take($event.target as HTMLInputElement)"
          /></label>
          <button type="button" class="btn btn-primary" :disabled="!text.trim()" @click="bringIn">Take it over</button>
        </div>
        <div v-if="read" class="small" role="status">
          {{ count(read.read, 'value') }} taken over.
          <ul v-if="read.left_out.length">
            <li v-for="one in read.left_out.slice(0, 8)" :key="`${one.row} ${one.reason}`">
              Left out<template v-if="one.row"> from row {{ one.row }}</template
              >: {{ one.reason }}
            </li>
          </ul>
        </div>
      </div>
    </PopPanel>
  </form>
</template>

<style scoped>
form {
  align-items: end;
  flex-wrap: wrap;
  margin: 10px 0;
}
label {
  display: grid;
}
.short {
  width: 90px;
}
.day {
  width: 150px;
}
.grow {
  flex: 1 1 140px;
}
.table {
  display: grid;
  gap: 8px;
  width: min(420px, 80vw);
}
</style>
