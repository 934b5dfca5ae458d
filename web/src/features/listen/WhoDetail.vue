<script setup lang="ts">
import { ref, watch } from 'vue'
import { api, value } from '@/api/client'
import type { RowView } from '@/api/collections'
import { useSave } from '@/api/save'
import { thingIn } from '@/shared/tabs'
import { useCollection } from '../collections/context'
import { links } from '../collections/text'

/** What somebody said, and what of it was said by somebody else of the same name. */
const props = defineProps<{ row: RowView }>()
const { collection } = useCollection()
const { save } = useSave()
const chosen = ref<number[]>([])
const name = ref('')
watch(
  () => props.row.id,
  () => (chosen.value = []),
)

async function split() {
  const body = { person: props.row.id, items: chosen.value, name: name.value }
  if (!(await save(value(api.POST('/api/v1/listen/split', { body }))))) return
  chosen.value = []
  name.value = ''
}
</script>

<template>
  <div>
    <ul aria-label="What they said">
      <li v-for="item in links(row.values.items)" :key="item.id">
        <input
          v-if="collection === 'person'"
          v-model="chosen"
          type="checkbox"
          :value="item.id"
          :aria-label="`Choose ${item.label}`"
        />
        <RouterLink class="thing" :to="thingIn('feedback_item', item.id)">{{ item.label }}</RouterLink>
      </li>
      <li v-if="!links(row.values.items).length" class="quiet">Nothing of it is here.</li>
    </ul>
    <form v-if="chosen.length" class="row-flex" @submit.prevent="split">
      <label
        >Somebody else said {{ chosen.length === 1 ? 'it' : 'these' }}:
        <input v-model="name" class="form-control" placeholder="the name" required
      /></label>
      <button type="submit" class="btn btn-outline">Give to them</button>
    </form>
  </div>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
}
li {
  display: flex;
  gap: 8px;
  padding: 2px 0;
}
form {
  align-items: end;
}
input[type='checkbox'] {
  accent-color: var(--ink);
  flex: none;
  height: 17px;
  width: 17px;
}
</style>
