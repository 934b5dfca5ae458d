<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { moment, percent, whole } from '@/shared/words'

/** Runs side by side, so that they can be compared. */
defineProps<{ runs: readonly Schemas['RunLine'][]; shown?: number }>()
const emit = defineEmits<{ open: [id: number] }>()
const NAMES = { loose: 'Wide', even: 'Middling', strict: 'Narrow' } as const
const STATES: Record<string, string> = {
  queued: 'waits',
  running: 'runs',
  failed: 'failed',
  cancelled: 'cancelled',
  interrupted: 'interrupted',
}
const outside = (run: Schemas['RunLine']) => (run.excerpts ? percent(run.outside / run.excerpts) : '')
</script>

<template>
  <div class="wide">
    <table aria-label="Runs">
      <thead>
        <tr>
          <th scope="col">Tried</th>
          <th scope="col">How wide</th>
          <th scope="col" class="number">Excerpts</th>
          <th scope="col" class="number">Findings</th>
          <th scope="col" class="number">New</th>
          <th scope="col" class="number">Changed</th>
          <th scope="col" class="number">Gone</th>
          <th scope="col" class="number" title="Excerpts that belong to no finding">Outside</th>
          <th scope="col" class="number" title="Of all pairs of excerpts that stood together, those that still would">
            Pairs kept
          </th>
          <th scope="col">State</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="run in runs" :key="run.id" :class="{ on: run.id === shown }">
          <td>
            <button type="button" class="btn btn-plain" :aria-pressed="run.id === shown" @click="emit('open', run.id)">
              {{ moment(run.asked_at) }}
            </button>
          </td>
          <td>{{ NAMES[run.strictness] }}</td>
          <template v-if="run.state === 'done'">
            <td class="number">{{ whole(run.excerpts) }}</td>
            <td class="number">{{ whole(run.findings) }}</td>
            <td class="number">{{ whole(run.new) }}</td>
            <td class="number">{{ whole(run.changed) }}</td>
            <td class="number">{{ whole(run.gone) }}</td>
            <td class="number">{{ outside(run) }}</td>
            <td class="number">{{ run.kept_together == null ? '–' : percent(run.kept_together) }}</td>
            <td>{{ run.taken == null ? 'tried' : 'taken' }}</td>
          </template>
          <td v-else colspan="8">
            {{ STATES[run.state] }}<template v-if="run.problem">: {{ run.problem }}</template>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.wide {
  overflow-x: auto;
}
td,
th {
  white-space: nowrap;
}
table {
  border-collapse: collapse;
  margin: 8px 0 16px;
}
th,
td {
  border-bottom: 1px solid var(--rule);
  padding: 3px 14px 3px 0;
  text-align: left;
}
th {
  color: var(--quiet);
  font-size: 13px;
  font-weight: 400;
}
.number {
  font-variant-numeric: tabular-nums;
  text-align: right;
}
.on td {
  font-weight: 650;
}
</style>
