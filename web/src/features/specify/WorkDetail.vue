<script setup lang="ts">
import { computed } from 'vue'
import { api, value } from '@/api/client'
import type { RowView } from '@/api/collections'
import { useSave } from '@/api/save'
import { useDraft } from '@/shared/draft'
import { useSelection } from '@/shared/selection'
import { thingIn } from '@/shared/tabs'
import { links } from '../collections/text'
import ServesObjectives from '../decide/ServesObjectives.vue'
import StoryDetail from './StoryDetail.vue'

/** A work item: a story with what it is done by, or what lies below a larger one. Enter adds the next story. */
const props = defineProps<{ row: RowView }>()
const { product } = useSelection()
const { save } = useSave()
const { words: title, send } = useDraft(() => `${product.value} story in ${epic.value?.reference ?? ''}`)
const level = computed(() => String(props.row.values.level))
const below = computed(() => links(props.row.values.children))
const ideas = computed(() => links(props.row.values.ideas))
/** The epic that a further story is written into: this one, or that of this story. */
const epic = computed(() => {
  if (level.value === 'epic') return { id: props.row.id, reference: props.row.reference }
  const parent = links(props.row.values.parent_id)[0]
  const reference = parent?.label.split(' ')[0] ?? ''
  return level.value === 'story' && parent && reference.startsWith('E') ? { id: parent.id, reference } : undefined
})

const addStory = () =>
  send((title) => {
    const body = { product_id: product.value, epic_id: epic.value?.id, set: { title } }
    return save(value(api.POST('/api/v1/specify/stories', { body })))
  })
</script>

<template>
  <div>
    <p v-if="ideas.length" class="small">
      From
      <RouterLink v-for="idea in ideas" :key="idea.id" class="thing" :to="thingIn('idea', idea.id)">{{
        idea.label
      }}</RouterLink>
    </p>
    <ServesObjectives v-if="level === 'initiative'" :id="row.id" kind="work_item" />
    <StoryDetail v-if="level === 'story'" :id="row.id" :reference="row.reference" />
    <ul v-else-if="below.length" aria-label="What lies below">
      <li v-for="one in below" :key="one.id">
        <RouterLink class="thing" :to="thingIn('work_item', one.id)">{{ one.label }}</RouterLink>
      </li>
    </ul>
    <form v-if="epic" class="new" @submit.prevent="addStory">
      <label :for="`new-${epic.id}`" class="visually-hidden">A new story in {{ epic.reference }}</label>
      <input
        :id="`new-${epic.id}`"
        v-model="title"
        class="form-control"
        :placeholder="`a new story in ${epic.reference}, Enter adds it`"
        required
      />
    </form>
  </div>
</template>

<style scoped>
p {
  margin: 0 0 6px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  padding: 2px 0;
}
.new {
  margin-top: 8px;
  max-width: 560px;
}
</style>
