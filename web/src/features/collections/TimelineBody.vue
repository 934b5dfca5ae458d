<script setup lang="ts">
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { useGroups, useRows } from '@/api/collections'
import { useSelection } from '@/shared/selection'
import { count as countWords, day } from '@/shared/words'
import { useCollection } from './context'
import { daysOf, isoDay, placed, type Placed } from './daySpans'
import { useHeldDays } from './heldDays'
import { fieldOf } from './model'
import { links, textOf } from './text'
import { arrow, lanesOf, LINE, range, SCALE, ticks, today as todayNumber, type Zoom } from './timeline'

/** Bars from a day to a day. A bar is dragged, or drawn at its ends; with the keyboard Space picks it up. */
const { ask, collection, definition, fields, state, team } = useCollection()
const { select, isSelected } = useSelection()
const zoom = computed<Zoom>(() => definition.value.zoom ?? 'quarter')
const days = computed(() => daysOf(definition.value, fields.value))
const lane = computed(() => fieldOf(fields.value, definition.value.group?.[0]?.field))
const needs = computed(() => (collection.value === 'work_item' ? 'needs' : undefined))
const extra = computed(() => [days.value.from?.name, days.value.to?.name, lane.value?.name, needs.value])
const { data, isPending } = useRows(() => ask(extra.value, { limit: 500 }))
const { data: groups } = useGroups(
  () => ask(),
  () => lane.value !== undefined,
)

const today = todayNumber()
const spanWords = (from: number, to: number) => `${day(isoDay(from))} – ${day(isoDay(to))}`
const { held, saying, keep, mayMove, onKey } = useHeldDays(days, () => data.value?.rows ?? [], spanWords)
const all = computed(() =>
  (data.value?.rows ?? []).flatMap((row) => {
    const at = placed(row, days.value)
    if (!at) return []
    const label = lane.value
      ? textOf(lane.value, row.values[lane.value.name], team.value) || `no ${lane.value.label.toLowerCase()}`
      : undefined
    const moved = held.value?.id === row.id ? { from: held.value.from, to: held.value.to } : {}
    return [{ ...at, ...moved, lane: label }]
  }),
)
const without = computed(() => (data.value?.rows.length ?? 0) - all.value.length)
const labels = computed(() => {
  if (!lane.value) return undefined
  const known = (groups.value?.groups ?? []).map((group) => group.keys[0]?.label ?? '')
  return [...new Set([...known, ...all.value.map((one) => one.lane ?? '')])]
})
const drawn = computed(() => lanesOf(all.value, labels.value))
const ends = computed(() =>
  range(held.value ? all.value.filter((one) => one.row.id !== held.value?.id) : all.value, today, zoom.value),
)
const scale = computed(() => SCALE[zoom.value])
const x = (at: number) => (at - ends.value[0]) * scale.value
const width = computed(() => (ends.value[1] - ends.value[0]) * scale.value)
const lines = computed(() => ticks(ends.value[0], ends.value[1], zoom.value))
const bars = computed(() => drawn.value.lanes.flatMap((one) => one.bars))

const arrows = computed(() => {
  if (!needs.value) return []
  const at = new Map(bars.value.map((bar) => [bar.row.id, bar]))
  return bars.value.flatMap((bar) =>
    links(bar.row.values.needs).flatMap(({ id }) => {
      const first = at.get(id)
      if (!first) return []
      const late = first.to >= bar.from
      return [
        {
          key: `${id} ${bar.row.id}`,
          late,
          path: arrow(x(first.to + 1), first.y + LINE / 2, x(bar.from), bar.y + LINE / 2),
        },
      ]
    }),
  )
})

const place = ref<HTMLElement>()
function toToday() {
  if (place.value) place.value.scrollLeft = Math.max(0, x(today) - place.value.clientWidth / 3)
}
onMounted(() =>
  watch(
    () => [zoom.value, all.value.length > 0],
    () => void nextTick(toToday),
    { immediate: true },
  ),
)

function draw(event: PointerEvent, bar: Placed, part: 'all' | 'from' | 'to') {
  select(collection.value, bar.row.id)
  if (!mayMove()) return
  event.preventDefault()
  const start = event.clientX
  const move = (to: PointerEvent) => {
    const by = Math.round((to.clientX - start) / scale.value)
    const from = part === 'to' ? bar.from : part === 'from' ? Math.min(bar.to, bar.from + by) : bar.from + by
    const last = part === 'from' ? bar.to : part === 'to' ? Math.max(bar.from, bar.to + by) : bar.to + by
    if (by !== 0 || held.value) held.value = { id: bar.row.id, from, to: last, keys: false }
  }
  const up = () => {
    window.removeEventListener('pointermove', move)
    if (held.value) void keep(bar.row.id, held.value.from, held.value.to)
  }
  window.addEventListener('pointermove', move)
  window.addEventListener('pointerup', up, { once: true })
}

const wide = (bar: Placed) => Math.max(6, (bar.to - bar.from + 1) * scale.value)
/** A name that does not fit into its bar stands behind it. */
const outside = (bar: Placed) => wide(bar) < `${bar.row.reference} ${bar.row.title}`.length * 6.6 + 16
</script>

<template>
  <div class="tools small quiet">
    <div class="btn-group" role="group" aria-label="How far it reaches">
      <button
        v-for="one in ['week', 'month', 'quarter', 'year'] as const"
        :key="one"
        type="button"
        class="btn"
        :class="one === zoom ? 'btn-outline on' : 'btn-plain'"
        :aria-pressed="one === zoom"
        @click="state.change({ zoom: one })"
      >
        {{ one }}
      </button>
    </div>
    <button type="button" class="btn btn-plain" @click="toToday">today</button>
    <span v-if="without > 0">{{ countWords(without, 'thing') }} without a date</span>
    <span v-if="data && data.count > data.rows.length">the first {{ data.rows.length }} of {{ data.count }}</span>
    <span v-if="days.fixed">Bars stay where they are: {{ days.fixed }}</span>
  </div>
  <p v-if="!days.from" class="quiet none">Choose the fields with the days in the line above.</p>
  <div v-else ref="place" class="timeline" :aria-busy="isPending" data-timeline>
    <div class="paper" :style="{ width: `${width}px`, height: `${drawn.height + 56}px` }">
      <div
        v-for="line in lines"
        :key="line.day"
        class="tick small"
        :class="{ strong: line.strong }"
        :style="{ left: `${x(line.day)}px` }"
      >
        <span>{{ line.label }}</span>
      </div>
      <div class="today" :style="{ left: `${x(today) + scale / 2}px` }"><span class="small">today</span></div>
      <div v-for="one in drawn.lanes" :key="one.label ?? ''" class="lane" :style="{ top: `${one.top + 44}px` }">
        <b v-if="one.label !== undefined">{{ one.label }}</b>
      </div>
      <svg class="arrows" :width="width" :height="drawn.height" aria-hidden="true">
        <path v-for="one in arrows" :key="one.key" :d="one.path" :class="{ late: one.late }" />
      </svg>
      <div
        v-for="bar in bars"
        :id="`bar-${bar.row.id}`"
        :key="bar.row.id"
        class="bar"
        :class="{
          'selected-thing': isSelected(collection, bar.row.id),
          held: held?.id === bar.row.id,
          fixed: days.fixed,
        }"
        :style="{
          left: `${x(bar.from)}px`,
          top: `${bar.y + 48}px`,
          width: `${wide(bar)}px`,
        }"
        role="button"
        tabindex="0"
        :aria-label="`${bar.row.reference} ${bar.row.title}, ${spanWords(bar.from, bar.to)}`"
        :title="spanWords(bar.from, bar.to)"
        :data-bar="bar.row.id"
        @focus="select(collection, bar.row.id)"
        @keydown="onKey($event, bar)"
        @pointerdown="draw($event, bar, 'all')"
      >
        <i class="end first" @pointerdown.stop="draw($event, bar, 'from')"></i>
        <span class="name" :class="{ outside: outside(bar) }">{{ bar.row.reference }} {{ bar.row.title }}</span>
        <i class="end last" @pointerdown.stop="draw($event, bar, 'to')"></i>
      </div>
    </div>
  </div>
  <div class="visually-hidden" role="status">{{ saying }}</div>
</template>

<style scoped>
.tools {
  align-items: center;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  padding: 4px 14px;
}
.btn-group {
  display: flex;
  gap: 4px;
}
.on {
  --bs-btn-border-color: var(--ink);
}
.timeline {
  flex: 1;
  min-height: 0;
  overflow: auto;
  position: relative;
}
.paper {
  min-height: 100%;
  min-width: 100%;
  position: relative;
}
.tick {
  border-left: 1px solid var(--rule);
  bottom: 0;
  color: var(--quiet);
  position: absolute;
  top: 0;
}
.tick.strong {
  border-color: var(--field);
}
.tick span {
  background: var(--paper);
  padding: 4px 3px;
  position: sticky;
  top: 0;
  white-space: nowrap;
  z-index: 2;
}
.today {
  border-left: 2px solid var(--kite);
  bottom: 0;
  position: absolute;
  top: 30px;
}
.today span {
  background: var(--paper);
  top: -6px;
  color: var(--kite);
  font-weight: 650;
  left: 2px;
  padding: 0 3px;
  position: absolute;
}
.lane {
  border-top: 1px solid var(--quiet);
  left: 0;
  position: absolute;
  right: 0;
}
.lane b {
  background: var(--paper);
  left: 0;
  padding: 3px 10px;
  position: sticky;
}
.lane:empty {
  border: 0;
}
.arrows {
  left: 0;
  overflow: visible;
  pointer-events: none;
  position: absolute;
  top: 46px;
}
.arrows path {
  fill: none;
  stroke: var(--quiet);
  stroke-width: 1.3;
}
.arrows .late {
  stroke: var(--ink);
  stroke-dasharray: 4 3;
  stroke-width: 2;
}
.bar {
  background: var(--panel);
  border: 1.5px solid var(--quiet);
  border-radius: 4px;
  cursor: grab;
  font-size: 13px;
  height: 26px;
  line-height: 23px;
  position: absolute;
  touch-action: none;
  user-select: none;
  white-space: nowrap;
}
.bar.fixed {
  cursor: default;
}
.held {
  border-style: dashed;
}
.name {
  left: 0;
  padding: 0 8px;
  position: sticky;
}
.outside {
  left: 100%;
  position: absolute;
}
.end {
  bottom: 0;
  cursor: ew-resize;
  position: absolute;
  top: 0;
  width: 8px;
}
.first {
  left: -2px;
}
.last {
  right: -2px;
}
.none {
  padding: 16px;
}
</style>
