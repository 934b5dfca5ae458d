<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useRows, type Filter } from '@/api/collections'
import { useSelection } from '@/shared/selection'
import { day } from '@/shared/words'
import { firstOf, monthOf, weekday, weeksOf } from './calendar'
import { useCollection } from './context'
import { dayNumber, daysOf, isoDay, placed, type Placed } from './daySpans'
import { useHeldDays } from './heldDays'
import { today as todayNumber } from './timeline'

/** Things on their days, a month at a time. They are dragged to another day; with the keyboard Space picks them up. */
const { ask, collection, definition, fields } = useCollection()
const { select, isSelected } = useSelection()
const route = useRoute()
const router = useRouter()
const today = todayNumber()
const month = computed(() => {
  const given = /^(\d{4})-(\d\d)$/.exec(String(route.query.month ?? ''))
  return given ? monthOf(dayNumber(`${given[1]}-${given[2]}-01`)) : monthOf(today)
})
const show = (to: number) => router.replace({ query: { ...route.query, month: isoDay(firstOf(to)).slice(0, 7) } })
const days = computed(() => daysOf(definition.value, fields.value))

/** Only what stands in the weeks that are drawn is asked for. */
const inSight = computed<Filter>(() => {
  const first = firstOf(month.value) - weekday(firstOf(month.value))
  const [low, high] = [isoDay(first), isoDay(firstOf(month.value + 1) + 6)]
  const { from, to } = days.value
  if (!from || !to || to === from || from.type === 'date_range')
    return { field: from?.name ?? '', operator: 'between', value: [low, high] }
  const starts: Filter = { field: from.name, operator: 'at_most', value: high }
  const ends: Filter = {
    or: [
      { field: to.name, operator: 'at_least', value: low },
      { field: from.name, operator: 'at_least', value: low },
    ],
  }
  return { and: [starts, ends] }
})
const { data, isPending } = useRows(() => {
  const asked = ask([days.value.from?.name, days.value.to?.name], { limit: 500 })
  const own = asked.query.filter
  return { ...asked, query: { ...asked.query, filter: own ? { and: [own, inSight.value] } : inSight.value } }
})

const spanWords = (from: number, to: number) =>
  to > from ? `${day(isoDay(from))} – ${day(isoDay(to))}` : day(isoDay(from))
/** A thing that has moved is drawn anew in another week; the keyboard stays with it before the next key comes. */
const stay = (id: number) => void nextTick(() => document.querySelector<HTMLElement>(`[data-strip="${id}"]`)?.focus())
const { held, saying, keep, mayMove, onKey } = useHeldDays(days, () => data.value?.rows ?? [], spanWords, stay)
const over = ref<number>()
const things = computed<Placed[]>(() =>
  (data.value?.rows ?? []).flatMap((row) => {
    const at = placed(row, days.value)
    return at ? [held.value?.id === row.id ? { ...at, ...held.value } : at] : []
  }),
)
const LANES = 4
const open = ref(false)
const weeks = computed(() => weeksOf(month.value, things.value, open.value ? 200 : LANES))
const heightOf = (lanes: number) => `${26 + Math.max(open.value ? 0 : LANES, lanes) * 24 + 18}px`
const title = computed(() =>
  new Intl.DateTimeFormat('en-GB', { month: 'long', year: 'numeric', timeZone: 'UTC' }).format(
    firstOf(month.value) * 86_400_000,
  ),
)

function draw(event: PointerEvent, thing: Placed) {
  select(collection.value, thing.row.id)
  if (!mayMove()) return
  const dayUnder = (at: PointerEvent) => {
    const under = document
      .elementsFromPoint(at.clientX, at.clientY)
      .find((one) => one instanceof HTMLElement && one.dataset.day)
    return under instanceof HTMLElement ? Number(under.dataset.day) : undefined
  }
  const start = dayUnder(event)
  event.preventDefault()
  ;(event.currentTarget as HTMLElement).focus()
  const move = (to: PointerEvent) => (over.value = dayUnder(to))
  const up = () => {
    window.removeEventListener('pointermove', move)
    const by = over.value !== undefined && start !== undefined ? over.value - start : 0
    over.value = undefined
    if (by !== 0) void keep(thing.row.id, thing.from + by, thing.to + by)
  }
  window.addEventListener('pointermove', move)
  window.addEventListener('pointerup', up, { once: true })
}
</script>

<template>
  <div class="tools">
    <h2>{{ title }}</h2>
    <button type="button" class="btn btn-outline" aria-label="The month before" @click="show(month - 1)">‹</button>
    <button type="button" class="btn btn-outline" aria-label="The month after" @click="show(month + 1)">›</button>
    <button type="button" class="btn btn-plain" @click="show(monthOf(today))">today</button>
    <span v-if="days.fixed" class="small quiet">Things stay on their days: {{ days.fixed }}</span>
  </div>
  <p v-if="!days.from" class="quiet none">Choose the field with the day in the line above.</p>
  <div v-else class="calendar" :aria-busy="isPending" data-calendar>
    <div class="week names small quiet" aria-hidden="true">
      <span v-for="name in ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']" :key="name">{{ name }}</span>
    </div>
    <div
      v-for="week in weeks"
      :key="week.monday"
      class="week"
      :style="{ minHeight: heightOf(week.strips.reduce((most, one) => Math.max(most, one.lane + 1), 0)) }"
    >
      <div
        v-for="(_, at) in 7"
        :key="at"
        class="day"
        :class="{
          other: monthOf(week.monday + at) !== month,
          today: week.monday + at === today,
          over: over === week.monday + at,
        }"
        :data-day="week.monday + at"
      >
        <span class="small"
          >{{ new Date((week.monday + at) * 86_400_000).getUTCDate()
          }}<b v-if="week.monday + at === today"> today</b></span
        >
        <button v-if="week.more[at]" type="button" class="btn btn-plain more small" @click="open = true">
          {{ week.more[at] }} more
        </button>
      </div>
      <div
        v-for="strip in week.strips"
        :key="strip.row.id"
        class="strip small"
        :class="{
          'selected-thing': isSelected(collection, strip.row.id),
          before: strip.before,
          after: strip.after,
          held: held?.id === strip.row.id,
        }"
        :style="{
          left: `calc(${(strip.column / 7) * 100}% + 3px)`,
          width: `calc(${(strip.days / 7) * 100}% - 6px)`,
          top: `${26 + strip.lane * 24}px`,
        }"
        role="button"
        tabindex="0"
        :data-strip="strip.row.id"
        :aria-label="`${strip.row.reference} ${strip.row.title}, ${spanWords(strip.from, strip.to)}`"
        @focus="select(collection, strip.row.id)"
        @keydown="onKey($event, strip)"
        @pointerdown="draw($event, strip)"
      >
        {{ strip.row.reference }} {{ strip.row.title }}
      </div>
    </div>
  </div>
  <div class="visually-hidden" role="status">{{ saying }}</div>
</template>

<style scoped>
.tools {
  align-items: center;
  display: flex;
  gap: 8px;
  padding: 6px 16px;
}
h2 {
  font-size: 18px;
  margin: 0 8px 0 0;
  min-width: 170px;
}
.calendar {
  flex: 1;
  min-height: 0;
  overflow: auto;
  padding: 0 16px 16px;
}
.week {
  display: grid;
  grid-template-columns: repeat(7, minmax(0, 1fr));
  position: relative;
}
.names {
  background: var(--paper);
  position: sticky;
  top: 0;
  z-index: 3;
}
.names span {
  padding: 2px 6px;
}
.day {
  border: 0.5px solid var(--rule);
  padding: 2px 6px;
  position: relative;
}
.other {
  color: var(--quiet);
}
.today {
  box-shadow: inset 0 2px var(--kite);
}
.today b {
  color: var(--kite);
}
.over {
  background: var(--panel);
  outline: 1.5px dashed var(--ink);
  outline-offset: -2px;
}
.more {
  bottom: 0;
  min-height: 0;
  padding: 0;
  position: absolute;
}
.strip {
  background: var(--panel);
  border: 1px solid var(--field);
  border-radius: 4px;
  cursor: grab;
  height: 22px;
  line-height: 19px;
  overflow: hidden;
  padding: 0 5px;
  position: absolute;
  text-overflow: ellipsis;
  touch-action: none;
  user-select: none;
  white-space: nowrap;
}
.before {
  border-bottom-left-radius: 0;
  border-left-style: dashed;
  border-top-left-radius: 0;
}
.after {
  border-bottom-right-radius: 0;
  border-right-style: dashed;
  border-top-right-radius: 0;
}
.held {
  border-style: dashed;
}
.none {
  padding: 16px;
}
</style>
