<script setup lang="ts">
import { ref } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useSave } from '@/api/save'
import EditField from '@/shared/EditField.vue'
import { useSelection } from '@/shared/selection'
import { count, figure, percent } from '@/shared/words'
import StoryRow from './StoryRow.vue'

/** An epic with its stories as a list that is written in quickly: Enter adds the next story. */
const props = defineProps<{
  epic?: Schemas['EpicView']
  stories: readonly Schemas['StoryView'][]
  all: readonly Schemas['StoryView'][]
}>()
const { product, select, isSelected } = useSelection()
const { save, edit } = useSave()
const title = ref('')

async function addStory() {
  const body = { product_id: product.value, epic_id: props.epic?.id, set: { title: title.value } }
  if (!(await save(value(api.POST('/api/v1/specify/stories', { body }))))) return
  title.value = ''
}
</script>

<template>
  <section :aria-label="epic ? `${epic.reference} ${epic.title}` : 'Stories without an epic'">
    <header :class="{ on: epic && isSelected('work_item', epic.id) }" @focusin="epic && select('work_item', epic.id)">
      <template v-if="epic">
        <button type="button" class="btn btn-plain" @click="select('work_item', epic.id)">{{ epic.reference }}</button>
        <div class="title">
          <h2 class="visually-hidden">{{ epic.reference }} {{ epic.title }}</h2>
          <EditField
            :value="epic.title"
            :label="`Title of ${epic.reference}`"
            @save="edit({ kind: 'work_item', id: epic.id }, epic, { title: $event })"
          />
        </div>
        <span class="small quiet">
          <RouterLink v-if="epic.idea" class="thing" :to="{ name: 'ranking', query: { at: `idea:${epic.idea}` } }"
            >from I{{ epic.idea }}</RouterLink
          >
          · {{ count(epic.progress.stories, 'story', 'stories') }} · {{ figure(epic.progress.points) }} points ·
          {{ percent(epic.progress.share) }} done
        </span>
      </template>
      <h2 v-else>Stories without an epic</h2>
    </header>
    <table class="list">
      <thead class="visually-hidden">
        <tr>
          <th scope="col">Reference</th>
          <th scope="col">Title</th>
          <th scope="col">Points</th>
          <th scope="col">MoSCoW</th>
          <th scope="col">State</th>
        </tr>
      </thead>
      <StoryRow v-for="story in stories" :key="story.id" :story="story" :all="all" />
    </table>
    <form v-if="epic" class="new" @submit.prevent="addStory">
      <label :for="`new-${epic.id}`" class="visually-hidden">A new story in {{ epic.reference }}</label>
      <input
        :id="`new-${epic.id}`"
        v-model="title"
        class="form-control"
        placeholder="a new story, Enter adds it"
        required
      />
    </form>
  </section>
</template>

<style scoped>
section {
  margin-bottom: 14px;
}
header {
  align-items: baseline;
  border-bottom: 1.5px solid var(--quiet);
  display: grid;
  gap: 8px;
  grid-template-columns: auto minmax(0, 1fr) auto;
  padding: 14px 16px 4px;
}
header.on {
  border-color: var(--ink);
}
h2,
.title {
  font:
    600 17px 'Bricolage Grotesque Variable',
    sans-serif;
  margin: 0;
}
.new {
  padding: 6px 16px 0 74px;
}
.new input {
  max-width: 460px;
}
</style>
