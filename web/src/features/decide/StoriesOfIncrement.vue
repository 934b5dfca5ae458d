<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { fetchRows } from '@/api/collections'
import { useSave } from '@/api/save'
import KiteMark from '@/shared/KiteMark.vue'
import PickThing from '@/shared/PickThing.vue'
import { useSelection } from '@/shared/selection'
import { thingIn } from '@/shared/tabs'

/** The stories of an increment. A story belongs to one at most, so one that is put here leaves where it was. */
const props = defineProps<{ increment: Schemas['IncrementView'] }>()
const { product } = useSelection()
const { edit } = useSave()
const PLACES = [{ kind: 'work_item', name: 'Stories' }] as const

const takeOut = (story: Schemas['StoryBrief']) =>
  edit(
    { kind: 'work_item', id: story.id },
    { rev: story.rev, ...{ increment_id: props.increment.id } },
    { increment_id: null },
  )

/** A story from anywhere in the product, by the search. */
async function pick(id: number) {
  const query = { fields: ['increment_id'], order: [], group: [], totals: [] }
  const page = await fetchRows({ collection: 'work_item', product: product.value, query, only: [id] })
  const row = page.rows[0]
  if (row) await edit({ kind: 'work_item', id }, { rev: row.rev }, { increment_id: props.increment.id })
}
</script>

<template>
  <div class="stories small">
    <span v-for="story in increment.stories" :key="story.id" class="story">
      <RouterLink class="thing" :to="thingIn('work_item', story.id)"
        >{{ story.reference }} {{ story.title }}</RouterLink
      >
      <KiteMark :state="story.state" />
      <button
        type="button"
        class="btn btn-plain"
        :aria-label="`Take ${story.reference} out of K${increment.id}`"
        @click="takeOut(story)"
      >
        ×
      </button>
    </span>
    <PickThing label="Put a story in" search="Search for a story" :places="PLACES" @pick="(_, id) => pick(id)" />
  </div>
</template>

<style scoped>
.stories {
  align-items: center;
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  margin: 4px 0;
}
.story {
  align-items: center;
  display: inline-flex;
  gap: 6px;
}
</style>
