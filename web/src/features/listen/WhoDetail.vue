<script setup lang="ts">
import { ref, watch } from 'vue'
import { api, ApiProblem, value } from '@/api/client'
import type { RowView } from '@/api/collections'
import { useMe, useRefresh } from '@/api/queries'
import { line, showProblem, useSave } from '@/api/save'
import { thingIn } from '@/shared/tabs'
import type { components } from '@/api/schema.gen'
import { count } from '@/shared/words'
import { useCollection } from '../collections/context'
import { links } from '../collections/text'

type Ahead = components['schemas']['ErasureAhead']

/** What somebody said, and what of it was said by somebody else of the same name. */
const props = defineProps<{ row: RowView }>()
const { collection } = useCollection()
const { save } = useSave()
const chosen = ref<number[]>([])
const name = ref('')
const meant = ref('')
const ahead = ref<Ahead>()
/** The places where a name that may be any word means this person. */
const places = ref<Ahead['places']>([])
const { data: me } = useMe()
const refresh = useRefresh()
watch(
  () => props.row.id,
  () => {
    chosen.value = []
    places.value = []
    ahead.value = undefined
    meant.value = ''
  },
)

/** What an erasure would meet is asked for when somebody thinks of it. */
async function lookAhead(event: Event) {
  if (!(event.target as HTMLDetailsElement).open || ahead.value) return
  try {
    const path = { id: props.row.id }
    ahead.value = await value(api.GET('/api/v1/listen/people/{id}/erasure', { params: { path } }))
  } catch (error) {
    if (error instanceof ApiProblem) showProblem(error.body)
  }
}

/** What cannot be taken back is said twice. */
async function erase() {
  const path = { id: props.row.id }
  const body = { places: places.value.map(({ thing, column }) => ({ thing, column })) }
  try {
    const gone = await value(api.POST('/api/v1/listen/people/{id}/erase', { params: { path }, body }))
    const files = gone.files.length ? `; ${count(gone.files.length, 'attached file')} still to be removed` : ''
    const label = `a person was erased: ${count(gone.items, 'item')}, ${count(gone.excerpts, 'excerpt')}, ${count(gone.mentions, 'mention')} covered${files}`
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
    <details v-if="collection === 'person' && me?.role === 'owner'" class="erase" @toggle="lookAhead">
      <summary>Erase this person</summary>
      <p class="small">
        All that {{ row.title }} said goes, and name, address and words wherever they stand, in the history, too. It
        cannot be undone. Backups that were made before still hold it. Write the name to say that you mean it.
      </p>
      <template v-if="ahead">
        <p v-if="ahead.words.length" class="small">
          “{{ ahead.words.join('”, “') }}” may be any word: choose where this person is meant. Elsewhere it
          stays<template v-if="ahead.more"> ({{ count(ahead.more, 'more place') }} not listed)</template>.
        </p>
        <ul v-if="ahead.places.length" class="places" aria-label="Places where this person may be meant">
          <li v-for="place in ahead.places" :key="`${place.thing.kind} ${place.thing.id} ${place.column}`">
            <label>
              <input v-model="places" type="checkbox" :value="place" />
              <span
                ><strong>{{ place.called }}</strong> <span class="quiet">{{ place.around }}</span></span
              >
            </label>
          </li>
        </ul>
        <p v-if="ahead.files.length" class="small">
          Attached files hold the name or the words and stay until somebody removes them:
          {{ ahead.files.map((file) => file.name).join(', ') }}.
        </p>
      </template>
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
.places {
  max-height: 40vh;
  overflow: auto;
}
.places label {
  display: flex;
  gap: 8px;
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
