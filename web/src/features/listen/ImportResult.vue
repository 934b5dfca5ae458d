<script setup lang="ts">
import { listOf } from '@/shared/tabs'
import type { Schemas } from '@/api/client'
import { count, whole } from '@/shared/words'

/** What came of an import: what was added, and what was left out and why. */
defineProps<{ report: Schemas['ImportReport'] }>()
</script>

<template>
  <section aria-label="What came of it" data-report>
    <h2>{{ count(report.added, 'item') }} brought in</h2>
    <p>
      {{ whole(report.excerpts) }} excerpts were read in them. {{ count(report.duplicates, 'row') }} said the same as an
      item that is there already and {{ report.duplicates === 1 ? 'was' : 'were' }} not added again.
      {{ count(report.left_out.length, 'row') }} {{ report.left_out.length === 1 ? 'was' : 'were' }} left out.
    </p>
    <table v-if="report.left_out.length || report.notes.length" class="list">
      <thead>
        <tr>
          <th scope="col">Row</th>
          <th scope="col">What became of it</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in report.left_out" :key="`l${row.row}`">
          <td class="number">{{ row.row }}</td>
          <td>left out: {{ row.reason }}</td>
        </tr>
        <tr v-for="(row, n) in report.notes" :key="`n${n}`">
          <td class="number">{{ row.row }}</td>
          <td>{{ row.reason }}</td>
        </tr>
      </tbody>
    </table>
    <div class="row-flex steps">
      <RouterLink class="btn btn-primary" :to="listOf('feedback_item', { view: 'unread' })">Read it</RouterLink>
    </div>
  </section>
</template>

<style scoped>
h2 {
  font-size: 17px;
  margin-top: 20px;
}
table {
  max-width: 720px;
}
td.number {
  width: 70px;
}
.steps {
  margin-top: 14px;
}
</style>
