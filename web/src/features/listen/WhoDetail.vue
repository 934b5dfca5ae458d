<script setup lang="ts">
import { ref, watch } from 'vue'
import { api, ApiProblem, value } from '@/api/client'
import type { RowView } from '@/api/collections'
import { useMe, useRefresh } from '@/api/queries'
import { line, showProblem, useSave } from '@/api/save'
import { thingIn } from '@/shared/tabs'
import { count } from '@/shared/words'
import { useCollection } from '../collections/context'
import { links } from '../collections/text'

/** What somebody said, and what of it was said by somebody else of the same name. */
const props = defineProps<{ row: RowView }>()
const { collection } = useCollection()
const { save } = useSave()
const chosen = ref<number[]>([])
const name = ref('')
const meant = ref('')
const { data: me } = useMe()
const refresh = useRefresh()
watch(
  () => props.row.id,
  () => (chosen.value = []),
)

/** What cannot be taken back is said twice. */
async function erase() {
  const path = { id: props.row.id }
  try {
    const gone = await value(api.POST('/api/v1/listen/people/{id}/erase', { params: { path } }))
    const label = `a person was erased: ${count(gone.items, 'item')}, ${count(gone.excerpts, 'excerpt')}, ${count(gone.mentions, 'mention')} covered`
    Object.assign(line, { saved: { label }, problem: undefined, at: Date.now() })
    meant.value = ''
    await refresh()
  } catch (error) {
    if (error instanceof ApiProblem) showProblem(error.body)
  }
}

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
    <details v-if="collection === 'person' && me?.role === 'owner'" class="erase">
      <summary>Erase this person</summary>
      <p class="small">
        All that {{ row.title }} said goes, and name, address and words wherever they stand, in the history, too. It
        cannot be undone. Backups that were made before still hold it. Write the name to say that you mean it.
      </p>
      <form class="row-flex" @submit.prevent="erase">
        <label><span class="visually-hidden">The name</span><input v-model="meant" class="form-control" /></label>
        <button type="submit" class="btn btn-outline" :disabled="meant.trim() !== row.title">Erase for good</button>
      </form>
    </details>
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
.erase {
  margin-bottom: 8px;
}
.erase p {
  margin: 4px 0;
  max-width: 60ch;
}
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
  flex: none;
  height: 17px;
  width: 17px;
}
</style>
