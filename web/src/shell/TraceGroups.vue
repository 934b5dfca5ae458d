<script setup lang="ts">
import type { Schemas } from '@/api/client'
import KiteMark from '@/shared/KiteMark.vue'
import { placeOf, useSelection } from '@/shared/selection'
import { withDays } from '@/shared/words'

defineProps<{ groups: readonly Schemas['TraceGroup'][]; direction: 'up' | 'down' }>()
const { product } = useSelection()

const MANY: Record<string, string> = {
  story: 'stories',
  feedback_item: 'feedback items',
}
const named = (sort: string, number: number) =>
  number === 1 ? sort.replaceAll('_', ' ') : (MANY[sort] ?? `${sort.replaceAll('_', ' ')}s`)
</script>

<template>
  <ol :class="direction">
    <template v-for="group in groups" :key="group.sort">
      <li v-for="one in group.lines" :key="`${one.thing.kind}${one.thing.id}`">
        <RouterLink class="thing" :to="placeOf(one.thing, one.product_id ?? product)"
          >{{ one.reference }} {{ one.title }}</RouterLink
        >
        <div class="small quiet">
          <KiteMark v-if="one.state" :state="one.state" /><template v-if="one.state && one.detail"> · </template
          >{{ withDays(one.detail) }}
        </div>
      </li>
      <li v-if="group.count > group.lines.length" class="quiet small">
        {{ group.count - group.lines.length }} more {{ named(group.sort, group.count - group.lines.length) }}
      </li>
    </template>
  </ol>
</template>

<style scoped>
ol {
  border-left: 2px solid currentColor;
  list-style: none;
  margin: 0;
  padding: 0 0 0 12px;
}
.up {
  color: var(--up);
}
.down {
  color: var(--down);
}
li {
  margin-bottom: 9px;
  overflow-wrap: anywhere;
  position: relative;
}
li::before {
  background: var(--panel);
  border: 2px solid currentColor;
  content: '';
  height: 8px;
  left: -17px;
  position: absolute;
  top: 6px;
  transform: rotate(45deg);
  width: 8px;
}
.up li::before {
  border-color: var(--up);
}
.down li::before {
  border-color: var(--down);
}
a {
  color: var(--ink) !important;
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 3;
  line-clamp: 3;
  overflow: hidden;
}
</style>
