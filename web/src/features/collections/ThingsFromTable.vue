<script setup lang="ts">
import { ref } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useSave } from '@/api/save'
import TableIn from '@/shared/TableIn.vue'
import { count } from '@/shared/words'
import { useCollection } from './context'

/** Things from a table, one for each row. */
const { collection, product } = useCollection()
const { save } = useSave()
const text = ref('')
const read = ref<Schemas['ThingsRead']>()

async function bringIn() {
  const params = { path: { collection: collection.value } }
  const body = { product: product.value, level: null, text: text.value }
  read.value = await save(value(api.POST('/api/v1/collections/{collection}/things/table', { params, body })))
  if (read.value?.added) text.value = ''
}
</script>

<template>
  <TableIn
    v-model="text"
    label="From a table"
    says="A table with headings as the fields are called, pasted from a sheet or from a CSV file"
    action="Add a row each"
    @take="bringIn"
  >
    <div v-if="read" class="small" role="status">
      {{ count(read.added, 'row') }} added.
      <template v-if="read.unknown.length">No field is called {{ read.unknown.join(', ') }}.</template>
      <ul v-if="read.left_out.length">
        <li v-for="one in read.left_out.slice(0, 8)" :key="`${one.row} ${one.reason}`">
          Left out row {{ one.row }}: {{ one.reason }}
        </li>
      </ul>
    </div>
  </TableIn>
</template>
