<script setup lang="ts">
import { ref, watch } from 'vue'
import { useSelection } from '@/shared/selection'
import { count as countWords } from '@/shared/words'
import { useCollection } from './context'
import NothingHere from './NothingHere.vue'
import { useGrowing } from './rows'
import RowFields from './RowFields.vue'

/** One thing below the other, with what the view shows of each. */
const { ask, collection } = useCollection()
const { select, opened } = useSelection()
const { rows, count, isPending, onScroll, cut } = useGrowing(() => ask(), 60)

/** What is open is also seen in the list, wherever somebody came from. */
const list = ref<HTMLElement>()
watch(
  [opened, () => rows.value.length],
  () => list.value?.querySelector('button.on')?.scrollIntoView({ block: 'nearest' }),
  { flush: 'post' },
)

function step(event: KeyboardEvent) {
  const way = event.key === 'ArrowDown' ? 'nextElementSibling' : 'previousElementSibling'
  const other = (event.target as HTMLElement).closest('li')?.[way]
  other?.querySelector<HTMLElement>('button')?.focus()
}
</script>

<template>
  <ul
    ref="list"
    class="list"
    :aria-busy="isPending"
    aria-label="List"
    @scroll.passive="onScroll"
    @keydown.up.down.prevent="step"
  >
    <li v-for="row in rows" :key="row.id" :data-row="row.id">
      <button
        type="button"
        :class="{ on: row.id === opened, unread: row.values.read === false }"
        @click="select(collection, row.id)"
        @focus="select(collection, row.id)"
      >
        <span class="title"
          ><span class="small quiet">{{ row.reference }}</span> {{ row.title }}</span
        >
        <RowFields :row="row" />
      </button>
    </li>
    <li v-if="!isPending && count === 0"><NothingHere /></li>
    <li v-if="cut" class="quiet none">
      The first 500 of {{ countWords(count, 'row') }}. Filter, or look at them as a table.
    </li>
  </ul>
</template>

<style scoped>
.list {
  flex: 1;
  list-style: none;
  margin: 0;
  min-height: 0;
  overflow: auto;
  padding: 0;
}
button {
  background: transparent;
  border: 0;
  border-bottom: 1px solid var(--rule);
  color: inherit;
  display: block;
  padding: 8px 16px;
  text-align: left;
  width: 100%;
}
button.on {
  background: var(--panel);
  box-shadow:
    inset 0 1.5px var(--ink),
    inset 0 -1.5px var(--ink);
}
.title {
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  display: -webkit-box;
  line-clamp: 2;
  overflow: hidden;
}
.unread .title {
  font-weight: 600;
}
button:focus-visible {
  outline-offset: -2px;
}
.none {
  padding: 16px;
}
</style>
