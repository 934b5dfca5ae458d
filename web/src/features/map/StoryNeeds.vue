<script setup lang="ts">
import { computed } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useSave } from '@/api/save'
import PickThing from '@/shared/PickThing.vue'
import { useSelection } from '@/shared/selection'

/** What the chosen card depends on, and what depends on it, to be said where it is seen. */
const props = defineProps<{ stories: readonly Schemas['StoryView'][] }>()
const { selected, select } = useSelection()
const { save } = useSave()
const story = computed(() =>
  selected.value?.kind === 'work_item' ? props.stories.find((one) => one.id === selected.value?.id) : undefined,
)
const named = (ids: readonly number[]) =>
  ids.map((id) => {
    const one = props.stories.find((other) => other.id === id)
    return { id, label: one ? `${one.reference} ${one.title}` : `S${id}` }
  })
const needed = computed(() => named(story.value?.needs ?? []))
const needing = computed(() =>
  named(props.stories.filter((one) => story.value && one.needs.includes(story.value.id)).map((one) => one.id)),
)

const put = (needed: number, of: number, path: '/api/v1/links' | '/api/v1/links/remove') => {
  const end = (id: number) => ({ kind: 'work_item' as const, id })
  return save(value(api.POST(path, { body: { kind: 'needed_by', from: end(needed), to: end(of) } })))
}
</script>

<template>
  <section class="small" aria-label="What the chosen story depends on">
    <template v-if="story">
      <b>{{ story.reference }}</b>
      <span class="quiet">depends on</span>
      <span v-for="one in needed" :key="one.id" class="one">
        <button type="button" class="btn btn-plain name" @click="select('work_item', one.id)">{{ one.label }}</button>
        <button
          type="button"
          class="btn btn-plain"
          :aria-label="`Take away: ${one.label}`"
          @click="put(one.id, story.id, '/api/v1/links/remove')"
        >
          take away
        </button>
      </span>
      <span v-if="!needed.length">nothing</span>
      <PickThing
        label="Add what it depends on"
        search="Which one does it depend on?"
        :places="[{ kind: 'work_item', name: 'Stories', of: { field: 'level', operator: 'is', value: 'story' } }]"
        :without="[story.id, ...story.needs]"
        @pick="(_, id) => story && put(id, story.id, '/api/v1/links')"
      />
      <template v-if="needing.length">
        <span class="quiet">· needed by</span>
        <button
          v-for="one in needing"
          :key="one.id"
          type="button"
          class="btn btn-plain name"
          @click="select('work_item', one.id)"
        >
          {{ one.label }}
        </button>
      </template>
    </template>
    <span v-else class="quiet">Choose a card to say what it depends on.</span>
  </section>
</template>

<style scoped>
section {
  align-items: baseline;
  background: var(--ground);
  border-bottom: 1px solid var(--rule);
  display: flex;
  flex-wrap: wrap;
  gap: 2px 8px;
  left: 0;
  min-height: 34px;
  padding: 3px 16px;
  position: sticky;
  top: 0;
  z-index: 2;
}
.one {
  align-items: baseline;
  display: inline-flex;
}
.name {
  max-width: 240px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
