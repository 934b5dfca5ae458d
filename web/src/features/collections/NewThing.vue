<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useSave } from '@/api/save'
import { useSelection } from '@/shared/selection'
import { useCollection } from './context'

/** Adds a thing to the collection by its title; what comes with a file is brought in elsewhere. */
const { collection, product } = useCollection()
const { save } = useSave()
const { select } = useSelection()
const title = ref('')
const level = ref<Schemas['Level']>('story')

const WORDS: Partial<Record<string, string>> = {
  account: 'a new account',
  idea: 'a new idea',
  work_item: 'a new work item',
  release: 'a new release',
  study: 'a new study',
  document: 'a new document',
  sprint: 'a new sprint',
  page: 'a new page',
}
const LEVELS = ['initiative', 'epic', 'feature', 'story', 'task'] as const
const words = computed(() => WORDS[collection.value])

async function add() {
  const name = collection.value === 'account' ? 'name' : 'title'
  const body = {
    product: product.value,
    level: collection.value === 'work_item' ? level.value : null,
    set: { [name]: title.value },
  }
  const params = { path: { collection: collection.value } }
  const saved = await save(value(api.POST('/api/v1/collections/{collection}/things', { params, body })))
  if (!saved?.thing) return
  title.value = ''
  select(saved.thing.kind, saved.thing.id)
}
</script>

<template>
  <form v-if="words" class="row-flex" @submit.prevent="add">
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
    <button type="submit" class="btn btn-primary">Add</button>
  </form>
  <RouterLink v-else-if="collection === 'feedback_item'" class="btn btn-primary" :to="{ name: 'bring-in' }"
    >Bring in feedback</RouterLink
  >
</template>
