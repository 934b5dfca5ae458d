<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { thingIn } from '@/shared/tabs'
import { count } from '@/shared/words'

/** What came of a part: what was added, what was there already, what changed, and what was left out and why. */
const props = defineProps<{ report: Schemas['ImportReport'] }>()
const lines = computed(() =>
  [...props.report.left_out.map((row) => ({ ...row, reason: `left out: ${row.reason}` })), ...props.report.notes].sort(
    (a, b) => a.row - b.row,
  ),
)
const again = (number: number) =>
  `${count(number, 'row')} ${number === 1 ? 'is' : 'are'} there already and ${number === 1 ? 'was' : 'were'} not added again.`
</script>

<template>
  <p>
    <b>{{ count(report.added, 'item') }} brought in</b>, {{ count(report.excerpts, 'excerpt') }} read.
    <template v-if="report.duplicates">{{ again(report.duplicates) }}</template>
    <template v-if="report.left_out.length"
      >{{ count(report.left_out.length, 'row') }} {{ report.left_out.length === 1 ? 'was' : 'were' }} left
      out.</template
    >
  </p>
  <table v-if="report.changed?.length" class="list">
    <thead>
      <tr>
        <th scope="col">Row</th>
        <th scope="col">Said</th>
        <th scope="col">Says now</th>
        <th scope="col"></th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="row in report.changed" :key="row.row">
        <td class="number">{{ row.row }}</td>
        <td>{{ row.before }}</td>
        <td>{{ row.after }}</td>
        <td>
          <RouterLink class="thing" :to="thingIn('feedback_item', row.item)">F{{ row.item }}</RouterLink>
          <div class="small quiet">{{ row.taken ? 'brought up to date' : 'left as it was' }}</div>
        </td>
      </tr>
    </tbody>
  </table>
  <table v-if="lines.length" class="list">
    <thead>
      <tr>
        <th scope="col">Row</th>
        <th scope="col">What became of it</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(row, n) in lines" :key="n">
        <td class="number">{{ row.row }}</td>
        <td>{{ row.reason }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
p {
  margin: 0 0 6px;
}
table {
  margin-bottom: 8px;
  max-width: 860px;
}
td.number {
  width: 70px;
}
</style>
