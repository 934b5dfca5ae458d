<script setup lang="ts">
import { computed, onMounted, onUnmounted, ref, watch } from 'vue'
import { useAttempt } from '@/api/attempt'
import { fetchRows, useGroups, useRows, type FieldDef } from '@/api/collections'
import { count as countWords, figure } from '@/shared/words'
import ChosenRows from './ChosenRows.vue'
import { useCollection } from './context'
import { useGrid, type Column } from './grid'
import { blocksOf, PAGE, ROW, rowsIn, stretchesOf, topOf, visible, type Section } from './layout'
import { fieldOf, widthOf } from './model'
import NothingHere from './NothingHere.vue'
import TableHead from './TableHead.vue'
import TablePage from './TablePage.vue'

/** The rows as a table. Only what can be seen is asked for and drawn, so that 100,000 rows scroll. */
const { definition, fields, ask, collection, product, state } = useCollection()
const grouped = computed(() => (definition.value.group ?? []).length > 0)
const { data: groups } = useGroups(
  () => ask(),
  () => grouped.value || (definition.value.totals ?? []).length > 0,
)
const { data: first, isPending } = useRows(() => ask([], { skip: 0, limit: PAGE }))

const TICK = 36
const columns = computed<Column[]>(() => {
  let left = TICK
  const known = (definition.value.fields ?? []).flatMap((one) => {
    const field = fieldOf(fields.value, one.name)
    return field && !field.retired
      ? [{ field, width: widthOf(field, one.width), pinned: one.pinned ?? false, left: 0 }]
      : []
  })
  // What is pinned stands at the left, whatever its place among the others.
  return [...known.filter((one) => one.pinned), ...known.filter((one) => !one.pinned)].map((one) => {
    const at = { ...one, left }
    if (one.pinned) left += one.width
    return at
  })
})
const width = computed(() => columns.value.reduce((sum, column) => sum + column.width, TICK))

const sections = computed<Section[]>(() => {
  if (!grouped.value) return [{ keys: [], count: first.value?.count ?? 0, totals: [] }]
  return (groups.value?.groups ?? []).map((group) => ({
    keys: group.keys.map((one) => one.key ?? null),
    label: group.keys.map((one) => one.label).join(' · '),
    count: group.count,
    totals: group.totals,
  }))
})
const folded = ref(new Set<string>())
const blocks = computed(() => blocksOf(sections.value, folded.value))
const height = computed(() => blocks.value.reduce((sum, block) => sum + block.height, 0))
const count = computed(() => rowsIn(blocks.value))

const place = ref<HTMLElement>()
const seen = ref({ top: 0, height: 800 })
const shownBlocks = computed(() => visible(blocks.value, seen.value.top, seen.value.height))
const look = () => {
  if (place.value) seen.value = { top: place.value.scrollTop, height: place.value.clientHeight }
}
const sizes = new ResizeObserver(look)
onMounted(() => place.value && sizes.observe(place.value))
onUnmounted(() => sizes.disconnect())

function seeRow(row: number) {
  const at = topOf(blocks.value, row)
  const box = place.value
  if (!box) return
  if (at < box.scrollTop) box.scrollTop = at
  else if (at + ROW > box.scrollTop + box.clientHeight - ROW) box.scrollTop = at + 2 * ROW - box.clientHeight
  look()
}

/** The server gives 500 rows at once and no more. */
const ANSWER = 500
const attempt = useAttempt()
const fetchRange = (from: number, to: number) =>
  attempt(async () => {
    const found = []
    for (const { section, skip, rows } of stretchesOf(blocks.value, from, to, ANSWER)) {
      const within = sections.value[section]?.keys ?? []
      found.push(...(await fetchRows(ask([], { within, skip, limit: rows }))).rows)
    }
    return found
  })

const pageRows = () => Math.max(1, Math.floor(seen.value.height / ROW) - 2)
const grid = useGrid(columns, count, seeRow, pageRows, fetchRange)
watch(
  () => JSON.stringify([collection.value, product.value, ask()]),
  () => grid.chosen.clear(),
)

function fold(section: Section) {
  const id = JSON.stringify(section.keys)
  const next = new Set(folded.value)
  if (!next.delete(id)) next.add(id)
  folded.value = next
}

const totals = computed(() => definition.value.totals ?? [])
const totalWords = (values: readonly (number | null)[]) =>
  totals.value
    .map((one, n) => {
      const field = fieldOf(fields.value, one.field)
      return `${one.measure} of ${field?.label.toLowerCase() ?? one.field} ${values[n] == null ? '–' : figure(values[n])}`
    })
    .join(' · ')

function resize(field: FieldDef, to: number) {
  const next = (definition.value.fields ?? []).map((one) =>
    one.name === field.name ? { ...one, width: Math.round(to) } : one,
  )
  state.change({ fields: next })
}

function move(field: FieldDef, before: string | undefined) {
  const all = [...(definition.value.fields ?? [])]
  const from = all.findIndex((one) => one.name === field.name)
  const [taken] = all.splice(from, 1)
  const at = before === undefined ? all.length : all.findIndex((one) => one.name === before)
  if (taken) all.splice(at < 0 ? all.length : at, 0, taken)
  state.change({ fields: all })
}

const isNumber = (field: FieldDef) => field.shape === 'number'
</script>

<template>
  <ChosenRows v-if="grid.chosen.size" :chosen="grid.chosen" />
  <NothingHere v-if="!isPending && first?.count === 0" />
  <div
    v-show="isPending || first?.count !== 0"
    ref="place"
    class="table"
    role="grid"
    tabindex="-1"
    :aria-label="`Table of ${count} rows`"
    :aria-rowcount="count + 1"
    :aria-colcount="columns.length"
    :aria-busy="isPending"
    @scroll.passive="look"
    @keydown="grid.onKey"
    @copy="grid.copy"
    @paste="grid.paste"
  >
    <TableHead :columns="columns" :is-number="isNumber" @resize="resize" @move="move" />
    <div class="rows" :style="{ height: `${height}px`, width: `${width}px` }">
      <template v-for="block in shownBlocks" :key="block.id">
        <div v-if="block.head" class="group" role="row" tabindex="-1" :style="{ top: `${block.top}px` }" data-group>
          <div role="gridcell" tabindex="-1">
            <button
              type="button"
              class="btn btn-plain"
              :aria-expanded="!folded.has(JSON.stringify(sections[block.section]?.keys))"
              @click="sections[block.section] && fold(sections[block.section]!)"
            >
              {{ sections[block.section]?.label }}
            </button>
            <span class="small quiet"
              >{{ countWords(sections[block.section]?.count ?? 0, 'row')
              }}{{ totals.length ? ` · ${totalWords(sections[block.section]?.totals ?? [])}` : '' }}</span
            >
          </div>
        </div>
        <TablePage
          v-else
          :block="block"
          :within="sections[block.section]?.keys ?? []"
          :columns="columns"
          :grid="grid"
        />
      </template>
    </div>
  </div>
  <div class="foot small quiet">
    <span data-count>{{ countWords(groups?.count ?? first?.count ?? 0, 'row') }}</span>
    <span v-if="totals.length && groups">{{ totalWords(groups.totals) }}</span>
    <span class="spacer" role="status">{{ grid.said.value }}</span>
  </div>
</template>

<style scoped>
.table {
  flex: 1;
  min-height: 0;
  overflow: auto;
  position: relative;
}
.rows {
  min-width: 100%;
  position: relative;
}
.group {
  background: var(--paper);
  border: 0;
  border-bottom: 1.5px solid var(--quiet);
  color: inherit;
  height: 35px;
  left: 0;
  line-height: 32px;
  padding: 0 8px;
  position: absolute;
  width: 100%;
}
.group > div {
  display: inline-block;
  left: 8px;
  position: sticky;
}
.foot {
  border-top: 1px solid var(--rule);
  display: flex;
  gap: 16px;
  min-height: 28px;
  padding: 4px 16px;
}
</style>
