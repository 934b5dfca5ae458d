<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useSave } from '@/api/save'
import EditField from '@/shared/EditField.vue'
import LinkPicker from '@/shared/LinkPicker.vue'

/** The sentence of a story, its acceptance criteria, and what it depends on. */
const props = defineProps<{ story: Schemas['StoryView']; all: readonly Schemas['StoryView'][] }>()
const { save, edit } = useSave()
const words = ref('')
const others = computed(() => props.all.filter((one) => one.id !== props.story.id))
const set = (values: Record<string, unknown>) => edit({ kind: 'work_item', id: props.story.id }, props.story, values)

async function addCriterion() {
  const path = { id: props.story.id }
  if (
    !(await save(
      value(api.POST('/api/v1/specify/stories/{id}/criteria', { params: { path }, body: { words: words.value } })),
    ))
  )
    return
  words.value = ''
}

function remove(kind: 'criterion' | 'work_item', id: number, rev: number) {
  return save(value(api.DELETE('/api/v1/things/{kind}/{id}', { params: { path: { kind, id }, query: { rev } } })))
}

function needs(id: number, on: boolean) {
  const body = {
    kind: 'needed_by' as const,
    from: { kind: 'work_item' as const, id },
    to: { kind: 'work_item' as const, id: props.story.id },
  }
  return save(value(on ? api.POST('/api/v1/links', { body }) : api.POST('/api/v1/links/remove', { body })))
}
</script>

<template>
  <div class="detail">
    <div class="sentence">
      <span>As a</span
      ><EditField
        :value="story.as_a"
        :label="`Who ${story.reference} is for`"
        placeholder="persona"
        @save="set({ as_a: $event })"
      />
      <span>I want</span
      ><EditField
        :value="story.i_want"
        :label="`What ${story.reference} gives`"
        placeholder="what they can do then"
        wrap
        @save="set({ i_want: $event })"
      />
      <span>so that</span
      ><EditField
        :value="story.so_that"
        :label="`What ${story.reference} is good for`"
        placeholder="what it is good for"
        wrap
        @save="set({ so_that: $event })"
      />
    </div>
    <h3>Done when</h3>
    <ul>
      <li v-for="criterion in story.criteria" :key="criterion.id">
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
          @click="remove('criterion', criterion.id, criterion.rev)"
        >
          remove
        </button>
      </li>
    </ul>
    <form @submit.prevent="addCriterion">
      <label :for="`criterion-${story.id}`" class="visually-hidden"
        >A new acceptance criterion of {{ story.reference }}</label
      >
      <input
        :id="`criterion-${story.id}`"
        v-model="words"
        class="form-control"
        placeholder="Given … when … then …, or a plain line; Enter adds it"
        required
      />
    </form>
    <LinkPicker
      label="Depends on"
      letter="S"
      :all="others"
      :linked="story.needs"
      @link="needs($event, true)"
      @unlink="needs($event, false)"
    />
    <button type="button" class="btn btn-plain" @click="remove('work_item', story.id, story.rev)">
      Remove {{ story.reference }}
    </button>
  </div>
</template>

<style scoped>
.sentence {
  display: grid;
  gap: 2px 10px;
  grid-template-columns: auto 1fr;
}
.sentence span {
  color: var(--quiet);
  padding-top: 2px;
}
h3 {
  font-size: 14px;
  margin: 10px 0 2px;
}
ul {
  margin: 0;
  list-style: none;
  padding: 0;
}
li {
  display: grid;
  gap: 8px;
  grid-template-columns: minmax(0, auto) 70px;
  justify-content: start;
}
li::before {
  content: none;
}
form {
  margin-top: 4px;
  max-width: 560px;
}
</style>
