<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { useWhy } from '@/api/queries'
import { percent } from '@/shared/words'
import { labelOf, told } from './scores'

/** Why an idea stands where it stands: what each criterion adds to a typical idea’s score, and how it lies to others. */
const props = defineProps<{ id: number; ask: Schemas['ScoresAsk']; definition: Schemas['ModelDefinition'] }>()
const { data: why } = useWhy(() => ({ ...props.ask, idea: props.id }))
const most = computed(() => Math.max(...(why.value?.shares.map((one) => Math.abs(one.adds)) ?? []), 1e-9))
const signed = (value: number) => (Math.abs(value) < 1e-9 ? '0' : `${value > 0 ? '+' : '−'}${told(Math.abs(value))}`)
/** Only those that it might change places with. */
const near = computed(() => why.value?.others.filter((one) => one.above > 0.02 && one.above < 0.98) ?? [])
</script>

<template>
  <section v-if="why" data-why>
    <h3>Why this rank</h3>
    <p class="small">
      A typical idea has {{ told(why.typical) }}; this one, with everything as likely, has <b>{{ told(why.score) }}</b>.
    </p>
    <table aria-label="What each criterion adds">
      <tbody>
        <tr v-for="one in why.shares" :key="one.field">
          <th scope="row">{{ labelOf(definition, one.field) }}</th>
          <td class="number small quiet">{{ told(one.value) }}, typical {{ told(one.typical) }}</td>
          <td class="bar">
            <svg height="12" aria-hidden="true">
              <line x1="50%" x2="50%" y1="0" y2="12" class="zero" />
              <rect
                :x="`${one.adds < 0 ? 50 - (Math.abs(one.adds) / most) * 50 : 50}%`"
                y="2"
                :width="`${(Math.abs(one.adds) / most) * 50}%`"
                height="8"
                :class="{ less: one.adds < 0 }"
              />
            </svg>
          </td>
          <td class="number">{{ signed(one.adds) }}</td>
        </tr>
      </tbody>
    </table>
    <template v-if="near.length">
      <h4>How sure the order is</h4>
      <ul class="small">
        <li v-for="one in near" :key="one.idea">
          above I{{ one.idea }} {{ one.title }} in {{ percent(one.above) }} of all cases
        </li>
      </ul>
    </template>
    <p v-else-if="why.others.length" class="small quiet">Its place among the others is sure.</p>
  </section>
</template>

<style scoped>
h3 {
  font-size: 15px;
  margin: 10px 0 4px;
}
h4 {
  font-size: 14px;
  margin: 8px 0 2px;
}
table {
  border-collapse: collapse;
  width: 100%;
}
th {
  font-weight: 400;
}
td,
th {
  padding: 2px 8px 2px 0;
  white-space: nowrap;
}
.bar {
  width: 40%;
}
svg {
  width: 100%;
}
rect {
  fill: var(--ink);
}
rect.less {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.2;
}
.zero {
  stroke: var(--field);
}
ul {
  margin: 0;
  padding-left: 18px;
}
p {
  margin: 2px 0;
}
</style>
