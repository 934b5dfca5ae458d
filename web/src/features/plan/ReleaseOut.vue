<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import type { RowView } from '@/api/collections'
import { useSave } from '@/api/save'
import { count, today, words } from '@/shared/words'

/** Asks before a release is out: since when, and where goes what is not done. */
const props = defineProps<{
  row: RowView
  stories: readonly Schemas['StoryView'][]
  releases: readonly Schemas['ReleaseView'][]
}>()
const emit = defineEmits<{ done: [] }>()
const { save } = useSave()
const unfinished = computed(() => props.stories.filter((story) => story.state !== 'done'))
const others = computed(() => props.releases.filter((one) => one.id !== props.row.id && one.state !== 'released'))
const next = () => {
  const place = props.releases.findIndex((one) => one.id === props.row.id)
  return props.releases.slice(place + 1).find((one) => one.state !== 'released') ?? others.value[0]
}
const day = ref(today())
const to = ref<number | ''>(next()?.id ?? '')

async function out() {
  const body = {
    rev: props.row.rev,
    state: 'released' as const,
    released_on: day.value,
    unfinished: unfinished.value.length ? { release_id: to.value === '' ? null : to.value } : null,
  }
  const params = { path: { id: props.row.id } }
  if (await save(value(api.POST('/api/v1/plan/releases/{id}/state', { params, body })))) emit('done')
}
</script>

<template>
  <form :aria-label="`${row.reference} goes out`" @submit.prevent="out">
    <p v-if="stories.length === 0">There is no story in it.</p>
    <p v-else-if="unfinished.length === 0">{{ count(stories.length, 'story', 'stories') }}, all done.</p>
    <template v-else>
      <p>
        <b>{{ unfinished.length }} of {{ count(stories.length, 'story', 'stories') }} not done.</b> They do not go out
        with it.
      </p>
      <ul class="small">
        <li v-for="story in unfinished" :key="story.id">
          {{ story.reference }} {{ story.title }} <span class="quiet">{{ words(story.shown_state) }}</span>
        </li>
      </ul>
    </template>
    <div class="row-flex">
      <label v-if="unfinished.length" class="small"
        >They go to
        <select v-model="to" class="form-select">
          <option v-for="one in others" :key="one.id" :value="one.id">R{{ one.id }} {{ one.title }}</option>
          <option value="">no release</option>
        </select></label
      >
      <label class="small"
        >Out since <input v-model="day" class="form-control" type="date" :max="today()" required
      /></label>
      <button type="submit" class="btn btn-primary">It is out</button>
      <button type="button" class="btn btn-plain" @click="emit('done')">Not yet</button>
    </div>
  </form>
</template>

<style scoped>
form {
  border: 1px solid var(--ink);
  border-radius: 6px;
  margin: 8px 0;
  padding: 8px 12px;
}
p,
ul {
  margin: 0 0 6px;
}
ul {
  max-height: 180px;
  overflow-y: auto;
  padding-left: 18px;
}
label {
  align-items: center;
  display: flex;
  gap: 8px;
  white-space: nowrap;
}
</style>
