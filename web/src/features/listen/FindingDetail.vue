<script setup lang="ts">
import type { RowView } from '@/api/collections'
import { useSelection } from '@/shared/selection'
import FindingExcerpts from './FindingExcerpts.vue'
import FindingStanding from './FindingStanding.vue'
import MakeIdea from './MakeIdea.vue'

/** What a finding rests on, and what can be made of it. */
defineProps<{ row: RowView }>()
const { product } = useSelection()
</script>

<template>
  <div>
    <div class="row-flex">
      <FindingStanding :id="row.id" :row="row" :state="String(row.values.state ?? 'accepted')" />
      <MakeIdea :id="row.id" :title="row.title" />
      <RouterLink
        class="btn btn-outline"
        :to="{ name: 'finding', params: { product, id: row.id }, query: { at: `finding:${row.id}` } }"
        >Open the finding</RouterLink
      >
    </div>
    <FindingExcerpts :id="row.id" />
  </div>
</template>
