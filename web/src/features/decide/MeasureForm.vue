<script setup lang="ts">
import { reactive, ref } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useSave } from '@/api/save'
import TableIn from '@/shared/TableIn.vue'
import { count, today } from '@/shared/words'

/** Notes what was measured: one value, or a table of days and values. */
const props = defineProps<{ id: number; unit?: string }>()
const { save } = useSave()
const form = reactive({ value: '', taken_on: today(), note: '' })
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
    <TableIn
      v-model="text"
      label="Bring in a table"
      says="A column of days and one of numbers, pasted from a sheet or from a CSV file"
      action="Take it over"
      example="2026-03-02&#9;31"
      @take="bringIn"
    >
      <div v-if="read" class="small" role="status">
        {{ count(read.read, 'value') }} taken over.
        <ul v-if="read.left_out.length">
          <li v-for="one in read.left_out.slice(0, 8)" :key="`${one.row} ${one.reason}`">
            Left out<template v-if="one.row"> from row {{ one.row }}</template
            >: {{ one.reason }}
          </li>
        </ul>
      </div>
    </TableIn>
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
</style>
