<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { useSave } from '@/api/save'
import { thingIn } from '@/shared/tabs'

/** The stories of an idea that belong to no increment, and putting each into one. */
defineProps<{ sheet: Schemas['IdeaSheet'] }>()
const { edit } = useSave()

function put(story: Schemas['StoryBrief'], field: HTMLSelectElement) {
  const increment = Number(field.value)
  field.value = ''
  return edit({ kind: 'work_item', id: story.id }, { rev: story.rev }, { increment_id: increment })
}
</script>

<template>
  <ul class="small" aria-label="Stories in no increment">
    <li v-for="story in sheet.loose" :key="story.id" class="row-flex">
      <RouterLink class="thing" :to="thingIn('work_item', story.id)"
        >{{ story.reference }} {{ story.title }}</RouterLink
      >
      <span class="quiet">in no increment</span>
      <select
        class="form-select"
        value=""
        :aria-label="`Put ${story.reference} into an increment`"
        @change="put(story, $event.target as HTMLSelectElement)"
      >
        <option value="">put it into …</option>
        <option v-for="one in sheet.increments" :key="one.id" :value="one.id">K{{ one.id }} {{ one.title }}</option>
      </select>
    </li>
  </ul>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
}
li {
  flex-wrap: wrap;
  padding: 2px 0;
}
.form-select {
  max-width: 220px;
  width: auto;
}
</style>
