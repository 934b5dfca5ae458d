<script setup lang="ts">
import { computed } from 'vue'
import PopPanel from '@/shared/PopPanel.vue'
import ChartChoice from './ChartChoice.vue'
import { useCollection } from './context'
import FieldsChoice from './FieldsChoice.vue'
import FilterGroup from './FilterGroup.vue'
import { asKind, conditions, dayFields, fieldOf, groupFields, KINDS, orderFields, type Kind } from './model'
import TotalsChoice from './TotalsChoice.vue'

/** The view as a sentence whose words can be changed: what is shown, of what, where, ordered and grouped by what. */
const { definition, fields, state } = useCollection()
const kind = computed<Kind>(() => definition.value.kind ?? 'table')
const label = (name: string) => fieldOf(fields.value, name)?.label ?? name
const group = computed(() => definition.value.group ?? [])
const order = computed(() => definition.value.order ?? [])
const where = computed(() => {
  const count = conditions(definition.value.filter)
  return count === 0 ? 'all of them' : count === 1 ? '1 condition' : `${count} conditions`
})
const ordered = computed(
  () =>
    order.value.map((by) => `${label(by.field)} ${by.descending ? '↓' : '↑'}`).join(', ') || 'the order they came in',
)
const grouped = computed(() => group.value.map((by) => label(by.field)).join(' and ') || 'nothing')
/** Where a group says something: not among points, nor where things stand one by one. */
const groups = computed(
  () =>
    ['table', 'columns', 'timeline'].includes(kind.value) ||
    (kind.value === 'chart' && definition.value.chart?.kind !== 'scatter'),
)
const days = computed(() => dayFields(fields.value))
const isDay = (name: string | undefined) => fieldOf(fields.value, name)?.type === 'date'

function turn(to: Kind) {
  void state.show(asKind(to, definition.value, fields.value))
}

function setGroup(at: number, name: string) {
  const next = [...group.value]
  if (name) next[at] = { field: name, part: next[at]?.part ?? null }
  else next.splice(at)
  state.change({ group: next })
}

function setOrder(at: number, name: string) {
  const next = [...order.value]
  if (name) next[at] = { field: name, descending: next[at]?.descending ?? false }
  else next.splice(at, 1)
  state.change({ order: next })
}

const picked = (event: Event) => (event.target as HTMLSelectElement).value
</script>

<template>
  <div class="sentence" data-sentence>
    <PopPanel :label="KINDS.find((one) => one.kind === kind)?.label ?? kind">
      <template #default="{ close }">
        <div class="kinds">
          <button
            v-for="one in KINDS"
            :key="one.kind"
            type="button"
            class="btn"
            :class="one.kind === kind ? 'btn-primary' : 'btn-outline'"
            :aria-pressed="one.kind === kind"
            @click="(turn(one.kind), close())"
          >
            {{ one.label }}
          </button>
        </div>
      </template>
    </PopPanel>
    <span>of</span>
    <PopPanel :label="where" :quiet="!definition.filter" wide>
      <FilterGroup
        :filter="definition.filter ?? { and: [] }"
        top
        @change="state.change({ filter: conditions($event) ? $event : undefined })"
      />
    </PopPanel>
    <template v-if="kind === 'timeline' || kind === 'calendar'">
      <span>from</span>
      <select
        class="form-select day"
        aria-label="The field with the first day"
        :value="definition.from ?? ''"
        @change="
          state.change({
            from: picked($event),
            to: fieldOf(fields, picked($event))?.type === 'date_range' ? picked($event) : definition.to,
          })
        "
      >
        <option v-if="!definition.from" value="">no date</option>
        <option v-for="one in days" :key="one.name" :value="one.name">{{ one.label }}</option>
      </select>
      <template v-if="fieldOf(fields, definition.from)?.type !== 'date_range'">
        <span>to</span>
        <select
          class="form-select day"
          aria-label="The field with the last day"
          :value="definition.to ?? ''"
          @change="state.change({ to: picked($event) || undefined })"
        >
          <option value="">the same day</option>
          <option v-for="one in days" :key="one.name" :value="one.name">{{ one.label }}</option>
        </select>
      </template>
    </template>
    <ChartChoice v-if="kind === 'chart'" />
    <template v-if="groups">
      <span>grouped by</span>
      <PopPanel :label="grouped" :quiet="group.length === 0">
        <div class="lines">
          <template v-for="at in group.length > 0 ? [0, 1] : [0]" :key="at">
            <select
              class="form-select"
              :aria-label="at === 0 ? 'Grouped by' : 'and by'"
              :value="group[at]?.field ?? ''"
              @change="setGroup(at, picked($event))"
            >
              <option value="">{{ at === 0 ? 'nothing' : 'nothing more' }}</option>
              <option v-for="one in groupFields(fields)" :key="one.name" :value="one.name">{{ one.label }}</option>
            </select>
            <select
              v-if="isDay(group[at]?.field)"
              class="form-select"
              aria-label="Days put together by"
              :value="group[at]?.part ?? 'month'"
              @change="
                state.change({
                  group: group.map((by, n) => (n === at ? { ...by, part: picked($event) as 'month' } : by)),
                })
              "
            >
              <option v-for="part in ['day', 'week', 'month', 'quarter', 'year']" :key="part" :value="part">
                by {{ part }}
              </option>
            </select>
          </template>
          <TotalsChoice />
        </div>
      </PopPanel>
    </template>
    <template v-if="kind !== 'chart'">
      <span>ordered by</span>
      <PopPanel :label="ordered" :quiet="order.length === 0">
        <div class="lines">
          <div v-for="at in order.length + (order.length < 3 ? 1 : 0)" :key="at" class="row-flex">
            <select
              class="form-select order"
              :aria-label="at === 1 ? 'Ordered by' : 'then by'"
              :value="order[at - 1]?.field ?? ''"
              @change="setOrder(at - 1, picked($event))"
            >
              <option value="">{{ at === 1 ? 'the order they came in' : 'nothing more' }}</option>
              <option v-for="one in orderFields(fields)" :key="one.name" :value="one.name">{{ one.label }}</option>
            </select>
            <button
              v-if="order[at - 1]"
              type="button"
              class="btn btn-outline"
              :aria-label="order[at - 1]?.descending ? 'from the largest' : 'from the smallest'"
              @click="
                state.change({
                  order: order.map((by, n) => (n === at - 1 ? { ...by, descending: !by.descending } : by)),
                })
              "
            >
              {{ order[at - 1]?.descending ? '↓' : '↑' }}
            </button>
          </div>
        </div>
      </PopPanel>
      <span>showing</span>
      <FieldsChoice />
    </template>
  </div>
</template>

<style scoped>
.sentence {
  align-items: center;
  border-bottom: 1px solid var(--rule);
  color: var(--quiet);
  display: flex;
  flex-wrap: wrap;
  gap: 2px 5px;
  min-height: 40px;
  padding: 4px 14px;
}
.kinds,
.lines {
  display: grid;
  gap: 6px;
}
.order {
  width: auto;
}
.day {
  width: auto;
}
</style>
