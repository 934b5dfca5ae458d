<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { withDays } from '@/shared/words'

/** A page of blocks as it is read and printed. */
type Block = Schemas['Block']
const props = defineProps<{ blocks: readonly Block[] }>()
/** Points that follow each other are one list. */
const parts = computed(() => {
  const found: (Block | { block: 'points'; all: string[] })[] = []
  for (const block of props.blocks) {
    const last = found.at(-1)
    if (block.block !== 'point') found.push(block)
    else if (last?.block === 'points') last.all.push(block.words)
    else found.push({ block: 'points', all: [block.words] })
  }
  return found
})
</script>

<template>
  <article class="page" data-report>
    <template v-for="(part, n) in parts" :key="n">
      <component :is="`h${part.level + 1}`" v-if="part.block === 'heading'" dir="auto">{{ part.words }}</component>
      <p v-else-if="part.block === 'paragraph'" dir="auto">{{ withDays(part.words) }}</p>
      <ul v-else-if="part.block === 'points'">
        <li v-for="words in part.all" :key="words" dir="auto">{{ withDays(words) }}</li>
      </ul>
      <table v-else-if="part.block === 'table'" class="list">
        <thead>
          <tr>
            <th v-for="head in part.heads" :key="head" scope="col">{{ head }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(cells, at) in part.lines" :key="at">
            <td v-for="(cell, place) in cells" :key="place">{{ cell }}</td>
          </tr>
        </tbody>
      </table>
      <blockquote v-else-if="part.block === 'quote'">
        <span dir="auto">“{{ part.words }}”</span>
        <footer class="small quiet">{{ withDays(part.by) }}</footer>
      </blockquote>
    </template>
  </article>
</template>

<style scoped>
.page {
  background: var(--panel);
  border: 1px solid var(--rule);
  border-radius: 6px;
  max-width: 860px;
  padding: 26px 34px 34px;
}
h2 {
  font-size: 26px;
  margin: 0 0 10px;
}
h3 {
  font-size: 19px;
  margin: 22px 0 6px;
}
h4 {
  break-after: avoid;
  font-size: 16px;
  margin: 16px 0 4px;
}
p {
  margin: 0 0 8px;
}
blockquote {
  break-inside: avoid;
  margin: 0 0 10px;
  padding-left: 22px;
}
@media print {
  .page {
    border: 0;
    max-width: none;
    padding: 0;
  }
}
</style>
