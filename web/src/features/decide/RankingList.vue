<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'
import KiteMark from '@/shared/KiteMark.vue'
import { percent } from '@/shared/words'
import ScoreInterval from './ScoreInterval.vue'
import { told, type Scored } from './scores'

/** Ideas from the best score downwards, each with where it may lie, drawn to one scale, and the cut. */
const props = defineProps<{ ideas: readonly Scored[]; top: number; name: string; selected?: number }>()
const emit = defineEmits<{ select: [number] }>()
const list = ref<HTMLElement>()
const scored = computed(() => props.ideas.filter((one) => one.rank != null))
const lacking = computed(() => props.ideas.filter((one) => one.rank == null))
const scale = computed(() => {
  const ends = scored.value.flatMap((one) => (one.spread ? [one.spread.low, one.spread.high] : []))
  return { from: Math.min(0, ...ends), to: Math.max(...ends, 0) }
})

async function step(by: number) {
  const all = props.ideas.map((one) => one.idea)
  const next = all[Math.min(Math.max(all.indexOf(props.selected ?? -1) + by, 0), all.length - 1)]
  if (next === undefined) return
  emit('select', next)
  await nextTick()
  list.value?.querySelector<HTMLElement>(`[data-ranked="${next}"] button`)?.focus()
}
</script>

<template>
  <!-- The arrows only go from one row to the next; each row is a button of its own. -->
  <!-- eslint-disable-next-line vuejs-accessibility/no-static-element-interactions -->
  <div ref="list" @keydown.down.prevent="step(1)" @keydown.up.prevent="step(-1)">
    <table class="ranking" aria-label="Ranking">
      <thead>
        <tr>
          <th scope="col"><span class="visually-hidden">Place</span></th>
          <th scope="col">Idea</th>
          <th scope="col" class="where">{{ name }}, where it may lie (80 %)</th>
          <th scope="col" class="number" title="Half of all cases lie below">Median</th>
          <th scope="col" class="number">In the top {{ top }}</th>
          <th scope="col" class="number sure" title="How sure it is that it lies above the next one">Above the next</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="(one, n) in scored" :key="one.idea">
          <tr v-if="n === top" class="cut">
            <td colspan="6">
              <span class="small quiet">the cut</span>
            </td>
          </tr>
          <tr :class="{ on: one.idea === selected }" :data-ranked="one.idea">
            <td class="place number quiet">{{ one.rank }}</td>
            <td>
              <button
                type="button"
                class="open"
                :aria-pressed="one.idea === selected"
                @click="emit('select', one.idea)"
              >
                <span class="quiet">I{{ one.idea }}</span> {{ one.title }}
              </button>
              <span class="under"
                ><KiteMark :state="one.state" /><span class="small quiet"> · {{ one.evidence }}</span></span
              >
            </td>
            <td class="where"><ScoreInterval v-if="one.spread" :spread="one.spread" v-bind="scale" /></td>
            <td class="figure number" data-median>{{ told(one.spread?.median) }}</td>
            <td class="figure number">{{ one.top == null ? '' : percent(one.top) }}</td>
            <td class="number sure">{{ one.above_next == null ? '' : percent(one.above_next) }}</td>
          </tr>
        </template>
        <tr v-for="one in lacking" :key="one.idea" :class="{ on: one.idea === selected }" :data-ranked="one.idea">
          <td></td>
          <td>
            <button type="button" class="open" :aria-pressed="one.idea === selected" @click="emit('select', one.idea)">
              <span class="quiet">I{{ one.idea }}</span> {{ one.title }}
            </button>
            <span class="under"
              ><KiteMark :state="one.state" /><span class="small quiet"> · {{ one.evidence }}</span></span
            >
          </td>
          <td colspan="4" class="small quiet">no score yet: it lacks {{ one.missing.join(', ') }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.ranking {
  border-collapse: collapse;
  width: 100%;
}
th {
  color: var(--quiet);
  font-size: 13px;
  padding: 8px 10px;
}
td {
  border-top: 1px solid var(--rule);
  padding: 6px 10px;
}
.place {
  padding-right: 0;
  width: 34px;
}
.where {
  min-width: 240px;
  width: 42%;
}
.figure {
  font-size: 17px;
  font-weight: 700;
}
.open {
  background: none;
  border: 0;
  color: var(--ink);
  display: block;
  font-weight: 600;
  min-height: 24px;
  padding: 0;
  text-align: start;
}
.under {
  display: block;
}
.on td {
  background: var(--panel);
  border-bottom: 1.5px solid var(--ink);
  border-top: 1.5px solid var(--ink);
}
.cut td {
  border-top: 1.5px dashed var(--ink);
  padding: 0 10px 2px;
  text-align: end;
}
@media (max-width: 900px) {
  .sure {
    display: none;
  }
  .where {
    min-width: 130px;
  }
}
@media (max-width: 560px) {
  .where {
    display: none;
  }
}
</style>
