<script setup lang="ts">
import { computed } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useSave } from '@/api/save'
import { count, day, figure } from '@/shared/words'

/** What was measured, the newest first; what somebody noted can be taken away. */
const props = defineProps<{ values: readonly Schemas['ValueView'][] }>()
const { save } = useSave()
const newest = computed(() => [...props.values].reverse())

function takeAway(id: number, rev: number) {
  const path = { kind: 'measurement' as const, id }
  return save(value(api.DELETE('/api/v1/things/{kind}/{id}', { params: { path, query: { rev } } })))
}
</script>

<template>
  <details v-if="values.length" class="small">
    <summary>{{ count(values.length, 'measurement') }}</summary>
    <ul>
      <li v-for="one in newest" :key="one.on" class="row-flex">
        <span class="day">{{ day(one.on) }}</span> <b class="figure">{{ figure(one.value) }}</b>
        <span class="quiet">{{ one.note }}</span>
        <span v-if="one.result != null" class="quiet">from the result M{{ one.result }}</span>
        <button
          v-if="one.measurement != null && one.rev != null"
          type="button"
          class="btn btn-plain"
          :aria-label="`Take away the value of ${day(one.on)}`"
          @click="takeAway(one.measurement, one.rev)"
        >
          take away
        </button>
      </li>
    </ul>
  </details>
</template>

<style scoped>
summary {
  cursor: pointer;
  min-height: 24px;
}
ul {
  list-style: none;
  margin: 0;
  max-height: 220px;
  overflow: auto;
  padding: 0;
}
.day {
  min-width: 96px;
}
</style>
