<script setup lang="ts">
import { computed } from 'vue'
import { api, value } from '@/api/client'
import { useStory } from '@/api/queries'
import { useSave } from '@/api/save'
import { useDraft } from '@/shared/draft'
import EditField from '@/shared/EditField.vue'

/** The acceptance criteria of a story, and what is still missing before it can be handed over. */
const props = defineProps<{ id: number; reference: string }>()
const { save, edit } = useSave()
const { data: story } = useStory(() => props.id)
const { words, send } = useDraft(() => `criterion of ${props.id}`)
const missing = computed(() => (story.value?.check.checks ?? []).filter((check) => !check.holds))

const addCriterion = () =>
  send((words) => {
    const path = { id: props.id }
    return save(value(api.POST('/api/v1/specify/stories/{id}/criteria', { params: { path }, body: { words } })))
  })

function remove(id: number, rev: number) {
  const params = { path: { kind: 'criterion' as const, id }, query: { rev } }
  return save(value(api.DELETE('/api/v1/things/{kind}/{id}', { params })))
}
</script>

<template>
  <div>
    <h3>Done when</h3>
    <ul>
      <li v-for="criterion in story?.criteria" :key="criterion.id">
        <EditField
          :value="criterion.words"
          label="Acceptance criterion"
          wrap
          @save="edit({ kind: 'criterion', id: criterion.id }, criterion, { words: $event })"
        />
        <button
          type="button"
          class="btn btn-plain"
          :aria-label="`Remove “${criterion.words}”`"
          @click="remove(criterion.id, criterion.rev)"
        >
          remove
        </button>
      </li>
    </ul>
    <form @submit.prevent="addCriterion">
      <label :for="`criterion-${id}`" class="visually-hidden">A new acceptance criterion of {{ reference }}</label>
      <input
        :id="`criterion-${id}`"
        v-model="words"
        class="form-control"
        placeholder="Given … when … then …, or a plain line; Enter adds it"
        required
      />
    </form>
    <p v-if="story" class="small quiet">
      <template v-if="missing.length"
        >Before it is ready: {{ missing.map((check) => check.to_do).join('; ') }}.</template
      >
      <template v-else>Nothing is missing before it can be handed over.</template>
    </p>
  </div>
</template>

<style scoped>
h3 {
  font-size: 14px;
  margin: 2px 0;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  gap: 8px;
  grid-template-columns: minmax(0, auto) 70px;
  justify-content: start;
}
form {
  margin-top: 4px;
  max-width: 560px;
}
p {
  margin: 6px 0 0;
}
</style>
