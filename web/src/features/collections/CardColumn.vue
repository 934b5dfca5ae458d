<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRows, type RowView } from '@/api/collections'
import { useCards } from '@/shared/cards'
import { useSelection } from '@/shared/selection'
import { useCollection } from './context'
import RowFields from './RowFields.vue'

/** The cards of one column, or of one column in one row. */
const props = defineProps<{
  within: readonly unknown[]
  count: number
  at: readonly [number, number]
  label: string
  /** A card that is picked up with the keyboard and would be put down here. */
  held?: RowView
  picked?: number
  fixed: boolean
}>()
const emit = defineEmits<{ place: [row: RowView, to: [number, number]]; key: [event: KeyboardEvent, row: RowView] }>()
const { ask, collection, definition } = useCollection()
const { select, isSelected } = useSelection()
const limit = ref(40)
const groups = computed(() => (definition.value.group ?? []).map((by) => by.field))
const { data } = useRows(() => ask(groups.value, { within: props.within, limit: limit.value }))
const rows = computed(() => (props.count === 0 ? [] : (data.value?.rows ?? [])))
const shownRows = computed(() => {
  const rest = rows.value.filter((row) => row.id !== props.picked || !props.held)
  return props.held ? [props.held, ...rest.filter((row) => row.id !== props.held?.id)] : rows.value
})
const list = ref<HTMLElement>()

useCards(list, 'collection', (card, to) => {
  const row = rows.value.find((one) => one.id === card)
  const [column, lane] = (to.dataset.at ?? '').split(' ').map(Number)
  if (row && column !== undefined && lane !== undefined && !props.fixed) emit('place', row, [column, lane])
})
</script>

<template>
  <div ref="list" class="cards" role="group" :aria-label="label" :data-at="at.join(' ')" :data-cell="label">
    <div
      v-for="row in shownRows"
      :id="`card-${row.id}`"
      :key="row.id"
      class="card-thing"
      :class="{ 'selected-thing': isSelected(collection, row.id), held: picked === row.id, fixed }"
      role="button"
      tabindex="0"
      :data-card="fixed ? undefined : row.id"
      :aria-pressed="picked === row.id"
      @click="select(collection, row.id)"
      @focus="select(collection, row.id)"
      @keydown="emit('key', $event, row)"
    >
      <span class="small quiet">{{ row.reference }}</span> {{ row.title }}
      <RowFields :row="row" />
    </div>
    <button v-if="count > rows.length && rows.length" type="button" class="btn btn-plain" @click="limit += 60">
      {{ count - rows.length }} more
    </button>
  </div>
</template>

<style scoped>
.cards {
  min-height: 60px;
  min-width: 0;
  padding: 8px 0;
}
.card-thing {
  cursor: grab;
  font-size: 14px;
  line-height: 1.3;
  margin-bottom: 8px;
  overflow-wrap: anywhere;
  user-select: none;
}
.fixed {
  cursor: default;
}
.held {
  border-style: dashed;
}
</style>
