<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, value, type Saved } from '@/api/client'
import { useSave } from '@/api/save'
import { useSelection } from '@/shared/selection'
import { useCollection } from './context'

/** Adds a thing to the collection by its title; what comes with a file or with a word is brought in elsewhere. */
const { collection, product } = useCollection()
const { save } = useSave()
const { select } = useSelection()
const title = ref('')

const WAYS: Partial<Record<string, { words: string; add: (title: string) => Promise<Saved> }>> = {
  idea: {
    words: 'a new idea',
    add: (title) => value(api.POST('/api/v1/decide/ideas', { body: { product_id: product.value, title } })),
  },
  work_item: {
    words: 'a new story',
    add: (title) => value(api.POST('/api/v1/specify/stories', { body: { product_id: product.value, set: { title } } })),
  },
  release: {
    words: 'a new release',
    add: (title) => value(api.POST('/api/v1/plan/releases', { body: { product_id: product.value, set: { title } } })),
  },
}
const way = computed(() => WAYS[collection.value])

async function add() {
  if (!way.value) return
  const saved = await save(way.value.add(title.value))
  if (!saved?.thing) return
  title.value = ''
  select(saved.thing.kind, saved.thing.id)
}
</script>

<template>
  <form v-if="way" class="row-flex" @submit.prevent="add">
    <label>
      <span class="visually-hidden">{{ way.words }}</span>
      <input v-model="title" class="form-control" :placeholder="way.words" required />
    </label>
    <button type="submit" class="btn btn-primary">Add</button>
  </form>
  <RouterLink v-else-if="collection === 'feedback_item'" class="btn btn-primary" :to="{ name: 'bring-in' }"
    >Bring in feedback</RouterLink
  >
</template>
