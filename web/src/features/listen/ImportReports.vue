<script setup lang="ts">
import { attachment } from '@/api/files'
import { useBroughtIn } from '@/api/queries'
import { listOf } from '@/shared/tabs'
import ImportResult from './ImportResult.vue'

/** What came of the files of one job, part by part. */
const props = defineProps<{ id: number }>()
const { data: report } = useBroughtIn(() => props.id)
</script>

<template>
  <div v-if="report" class="reports" data-report>
    <template v-for="(part, n) in report.parts" :key="n">
      <h3>{{ part.name }}</h3>
      <ImportResult v-if="part.report" :report="part.report" />
      <p v-else-if="part.kept">
        Kept as a file: <a class="thing" :href="attachment(part.kept.id)" target="_blank">{{ part.kept.name }}</a>. No
        text was read from it.
      </p>
      <p v-else class="hatch refused">Nothing of it was taken. {{ part.refused }}</p>
    </template>
    <RouterLink class="btn btn-primary" :to="listOf('feedback_item', { view: 'unread' })">Read it</RouterLink>
  </div>
</template>

<style scoped>
.reports {
  border-left: 1px solid var(--rule);
  margin: 4px 0 12px;
  padding-left: 14px;
}
h3 {
  font-size: 15px;
  margin: 8px 0 2px;
}
p {
  margin: 0 0 6px;
}
.refused {
  border: 1px solid var(--ink);
  max-width: 720px;
  padding: 4px 10px;
}
</style>
