<script setup lang="ts">
import { thingIn } from '@/shared/tabs'
import type { Schemas } from '@/api/client'
import KiteMark from '@/shared/KiteMark.vue'
import { figure } from '@/shared/words'

/** The stories of a release, and what each depends on. */
defineProps<{ stories: readonly Schemas['StoryView'][] }>()
</script>

<template>
  <p v-if="stories.length === 0" class="quiet">
    No story is in it yet. <RouterLink :to="{ name: 'map' }">Lay stories into its slice on the map</RouterLink>.
  </p>
  <ul v-else>
    <li v-for="story in stories" :key="story.id">
      <RouterLink class="thing" :to="thingIn('work_item', story.id)"
        >{{ story.reference }} {{ story.title }}</RouterLink
      >
      <span class="small quiet number">{{
        story.points == null ? 'no estimate' : `${figure(story.points)} points`
      }}</span>
      <KiteMark :state="story.shown_state" />
      <span v-if="story.needs.length" class="small quiet"
        >depends on {{ story.needs.map((id) => `S${id}`).join(', ') }}</span
      >
    </li>
  </ul>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0 0 10px;
  padding: 0;
}
li {
  align-items: baseline;
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  padding: 2px 0;
}
</style>
