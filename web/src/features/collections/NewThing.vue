<script setup lang="ts">
import { computed, defineAsyncComponent, reactive, ref } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { putAccounts } from '@/api/files'
import { KINDS } from '@/api/kinds.gen'
import { useSave } from '@/api/save'
import { useRights } from '@/shared/rights'
import { useSelection } from '@/shared/selection'
import { useCollection } from './context'
import ThingsFromTable from './ThingsFromTable.vue'

/** Adds a thing to the collection by its title; what comes with a file is brought in elsewhere. */
const { collection, product } = useCollection()
const { save } = useSave()
const { select } = useSelection()
const { mayAdd, mayChange } = useRights()
const NewStudy = defineAsyncComponent(() => import('../listen/NewStudy.vue'))
const title = ref('')
const level = ref<Schemas['Level']>('story')

const FROM_FILES = ['finding', 'feedback_item', 'excerpt']
const LEVELS = ['initiative', 'epic', 'feature', 'story', 'task'] as const
/** A form is made where it is listed, though not by its fields alone; an increment is added at its idea. */
const addable = computed(() => {
  if (collection.value === 'request_form') return mayChange('request_form')
  return collection.value !== 'increment' && mayAdd(collection.value)
})
const words = computed(() => `a new ${KINDS[collection.value].singular}`)

/** What an objective must say from the first: how one sees that it is reached. */
const goal = reactive({ measure: '', start_value: '', target_value: '' })

/** What else people call a term. */
const synonyms = ref('')

/** A table of accounts: name, segment, plan, revenue by their headings. */
async function bringIn(field: HTMLInputElement) {
  const file = field.files?.[0]
  if (file) await save(putAccounts(file))
  field.value = ''
}

async function addForm() {
  const body = { product_id: product.value, title: title.value }
  const saved = await save(value(api.POST('/api/v1/decide/forms', { body })))
  if (!saved?.thing) return
  title.value = ''
  select(saved.thing.kind, saved.thing.id)
}

async function add() {
  if (collection.value === 'request_form') return addForm()
  const body = {
    product: product.value,
    level: collection.value === 'work_item' ? level.value : null,
    set: {
      [String(KINDS[collection.value].title)]: title.value,
      ...(collection.value === 'term' && { synonyms: synonyms.value }),
      ...(collection.value === 'objective' && {
        measure: goal.measure,
        start_value: Number(goal.start_value),
        target_value: Number(goal.target_value),
      }),
    },
  }
  const params = { path: { collection: collection.value } }
  const saved = await save(value(api.POST('/api/v1/collections/{collection}/things', { params, body })))
  if (!saved?.thing) return
  title.value = ''
  synonyms.value = ''
  Object.assign(goal, { measure: '', start_value: '', target_value: '' })
  select(saved.thing.kind, saved.thing.id)
}
</script>

<template>
  <label v-if="collection === 'account' && addable" class="btn btn-outline file"
    >Bring in a table
    <input class="visually-hidden" type="file" @change="bringIn($event.target as HTMLInputElement)" />
  </label>
  <NewStudy v-if="collection === 'study' && addable" />
  <form v-else-if="addable" class="row-flex" @submit.prevent="add">
    <label v-if="collection === 'work_item'">
      <span class="visually-hidden">Level</span>
      <select v-model="level" class="form-select">
        <option v-for="one in LEVELS" :key="one" :value="one">{{ one }}</option>
      </select>
    </label>
    <label>
      <span class="visually-hidden">{{ words }}</span>
      <input v-model="title" class="form-control" :placeholder="words" required />
    </label>
    <label v-if="collection === 'term'">
      <span class="visually-hidden">Also called, parted by commas</span>
      <input v-model="synonyms" class="form-control" placeholder="also called: one, another" />
    </label>
    <template v-if="collection === 'objective'">
      <label
        ><span class="visually-hidden">Its measure</span>
        <input v-model="goal.measure" class="form-control" placeholder="its measure" required
      /></label>
      <label
        ><span class="visually-hidden">Start</span>
        <input
          v-model="goal.start_value"
          class="form-control short"
          type="number"
          step="any"
          placeholder="from"
          required
      /></label>
      <label
        ><span class="visually-hidden">Target</span>
        <input
          v-model="goal.target_value"
          class="form-control short"
          type="number"
          step="any"
          placeholder="to"
          required
      /></label>
    </template>
    <button type="submit" class="btn btn-primary">Add</button>
    <ThingsFromTable v-if="collection === 'idea'" />
  </form>
  <RouterLink
    v-else-if="FROM_FILES.includes(collection) && mayChange(collection)"
    class="btn btn-primary"
    :to="{ name: 'bring-in' }"
    >Bring in feedback</RouterLink
  >
</template>

<style scoped>
.file:focus-within {
  outline: 2px solid var(--ink);
  outline-offset: 2px;
}
.short {
  width: 78px;
}
</style>
