<script setup lang="ts">
import { ref } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useSave } from '@/api/save'
import PopPanel from '@/shared/PopPanel.vue'
import { count } from '@/shared/words'
import { useCollection } from './context'

/** Things from a table: pasted from a sheet or from a file, one for each row. */
const { collection, product } = useCollection()
const { save } = useSave()
const open = ref(false)
const text = ref('')
const read = ref<Schemas['ThingsRead']>()

async function bringIn() {
  const params = { path: { collection: collection.value } }
  const body = { product: product.value, level: null, text: text.value }
  read.value = await save(value(api.POST('/api/v1/collections/{collection}/things/table', { params, body })))
  if (read.value?.added) text.value = ''
}
async function take(field: HTMLInputElement) {
  const file = field.files?.[0]
  if (file) text.value = await file.text()
  field.value = ''
}
</script>

<template>
  <PopPanel v-model="open" label="From a table">
    <div class="table">
      <label
        ><span class="small"
          >A table with headings as the fields are called, pasted from a sheet or from a CSV file</span
        >
        <textarea v-model="text" class="form-control" rows="7"></textarea>
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
        <button type="button" class="btn btn-primary" :disabled="!text.trim()" @click="bringIn">Add a row each</button>
      </div>
      <div v-if="read" class="small" role="status">
        {{ count(read.added, 'row') }} added.
        <template v-if="read.unknown.length">No field is called {{ read.unknown.join(', ') }}.</template>
        <ul v-if="read.left_out.length">
          <li v-for="one in read.left_out.slice(0, 8)" :key="`${one.row} ${one.reason}`">
            Left out row {{ one.row }}: {{ one.reason }}
          </li>
        </ul>
      </div>
    </div>
  </PopPanel>
</template>

<style scoped>
.table {
  display: grid;
  gap: 8px;
  width: min(460px, 82vw);
}
</style>
