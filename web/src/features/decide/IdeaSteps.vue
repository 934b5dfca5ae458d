<script setup lang="ts">
import { ref } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useSave } from '@/api/save'
import { useSelection } from '@/shared/selection'
import { percent } from '@/shared/words'
import IncrementCard from './IncrementCard.vue'
import LooseStories from './LooseStories.vue'

/** The increments of an idea, in their order: the smallest step that would teach something comes first. */
const props = defineProps<{ id: number; sheet: Schemas['IdeaSheet'] }>()
const { product } = useSelection()
const { save } = useSave()
const title = ref('')
const shows = ref('')

async function add() {
  const set = { title: title.value, shows: shows.value, idea_id: props.id }
  const params = { path: { collection: 'increment' as const } }
  const body = { product: product.value, level: null, set }
  if (await save(value(api.POST('/api/v1/collections/{collection}/things', { params, body })))) {
    title.value = ''
    shows.value = ''
  }
}
</script>

<template>
  <section data-steps>
    <h3>
      Increments
      <span v-if="sheet.delivered.stories" class="small quiet"
        >{{ percent(sheet.delivered.share) }} of the work is done</span
      >
    </h3>
    <ol>
      <li v-for="one in sheet.increments" :key="one.id">
        <IncrementCard :increment="one" />
      </li>
    </ol>
    <LooseStories v-if="sheet.loose.length && sheet.increments.length" :sheet="sheet" />
    <form class="row-flex" aria-label="A new increment" @submit.prevent="add">
      <input
        v-model="title"
        class="form-control"
        aria-label="The next increment"
        placeholder="the smallest step that would teach us something"
        required
      />
      <input v-model="shows" class="form-control" aria-label="What it should show" placeholder="what it should show" />
      <button type="submit" class="btn btn-outline">Add the increment</button>
    </form>
  </section>
</template>

<style scoped>
h3 {
  font-size: 15px;
  margin: 14px 0 4px;
}
ol {
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
}
form {
  flex-wrap: wrap;
}
.form-control {
  flex: 1 1 180px;
}
</style>
