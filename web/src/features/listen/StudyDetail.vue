<script setup lang="ts">
import type { RowView } from '@/api/collections'
import { useStudy } from '@/api/queries'
import { useSelection } from '@/shared/selection'
import { thingIn } from '@/shared/tabs'
import { links } from '../collections/text'
import { drafted } from './conversation'
import GuideList from './GuideList.vue'

/** What is asked in a study, what was said in it, and the way to take notes. */
const props = defineProps<{ row: RowView }>()
const { product } = useSelection()
const { data: study } = useStudy(() => props.row.id)
</script>

<template>
  <div>
    <div class="row-flex">
      <RouterLink class="btn btn-primary" :to="{ name: 'conversation', params: { product, id: row.id } }"
        >Take notes</RouterLink
      >
      <span v-if="drafted(row.id)?.lines.length" class="small">Notes that are not kept yet wait in this browser.</span>
    </div>
    <h3>What was said in it</h3>
    <ul aria-label="What was said in it">
      <li v-for="item in links(row.values.items)" :key="item.id">
        <RouterLink class="thing" :to="thingIn('feedback_item', item.id)">{{ item.label }}</RouterLink>
      </li>
      <li v-if="!links(row.values.items).length" class="quiet">
        Nothing yet. Take notes, bring recordings and notes in for this study, or give feedback to it in its field
        “Study”.
      </li>
    </ul>
    <template v-if="study?.questions.length">
      <h3>What is asked</h3>
      <GuideList :questions="study.questions" />
    </template>
  </div>
</template>

<style scoped>
h3 {
  font-size: 15px;
  margin: 14px 0 4px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  overflow: hidden;
  padding: 2px 0;
  text-overflow: ellipsis;
  white-space: nowrap;
}
li.quiet {
  white-space: normal;
}
</style>
