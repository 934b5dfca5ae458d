<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import type { Columns } from '@/api/files'

/** The first rows of a file, and above each column what it is. */
const props = defineProps<{ preview: Schemas['TablePreview'] }>()
const columns = defineModel<Columns>({ required: true })

const MEANINGS = [
  ['text', 'the words'],
  ['said_on', 'the day'],
  ['person', 'the person'],
  ['account', 'the account'],
  ['rating', 'the rating'],
  ['address', 'the mail address'],
  ['key', 'its number there'],
] as const
type Meaning = (typeof MEANINGS)[number][0]

const meaning = computed(() =>
  props.preview.columns.map((_, at) => MEANINGS.find(([name]) => columns.value[name] === at)?.[0] ?? ''),
)

function choose(at: number, to: string) {
  const next: Columns = { ...columns.value }
  for (const [name] of MEANINGS) if (name !== 'text' && next[name] === at) next[name] = null
  if (to) next[to as Meaning] = at
  columns.value = next
}
</script>

<template>
  <div class="scroll">
    <table class="list">
      <thead>
        <tr>
          <th v-for="(name, at) in preview.columns" :key="at" scope="col">
            <div>{{ name }}</div>
            <select
              class="form-select"
              :aria-label="`What the column ${name} is`"
              :value="meaning[at]"
              @change="choose(at, ($event.target as HTMLSelectElement).value)"
            >
              <option value="" :disabled="columns.text === at">kept beside</option>
              <option v-for="[key, label] in MEANINGS" :key="key" :value="key">{{ label }}</option>
            </select>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(row, n) in preview.rows" :key="n">
          <td
            v-for="(cell, at) in row"
            :key="at"
            dir="auto"
            :class="{ words: meaning[at] === 'text', quiet: meaning[at] === '' }"
          >
            {{ cell }}
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
td {
  font-size: 14px;
  max-width: 260px;
  overflow-wrap: anywhere;
}
td.words {
  min-width: 260px;
}
select {
  min-width: 142px;
}
</style>
