<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import PartBars from '@/shared/PartBars.vue'
import PeriodBars from '@/shared/PeriodBars.vue'
import { SIDES, type Side } from '@/shared/sides'
import { count, figure, money, withDays } from '@/shared/words'
import type { SaidFilter } from './saidFilter'

/** Pictures of a finding: each part, picked, leaves only its excerpts in the list; and what is not known. */
const props = defineProps<{ picture: Schemas['SaidPicture'] }>()
const filter = defineModel<SaidFilter>({ required: true })
const set = (change: SaidFilter) => (filter.value = { ...filter.value, ...change })
const pickPeriod = (period: Schemas['Stretch'] | undefined) => set({ from: period?.from, to: period?.to })

const whole = computed(() => {
  const all: Schemas['Spread'] = { against: 0, neutral: 0, for_it: 0 }
  for (const part of props.picture.kinds) for (const [side] of SIDES) all[side] += part.spread[side]
  return all
})
const sign: Record<Side, string> = { against: 'full', neutral: 'half', for_it: 'empty' }

const frustration = computed(() => props.picture.frustration)
</script>

<template>
  <section class="picture" aria-label="Pictures" data-picture>
    <div class="wide">
      <PeriodBars title="Over time" :over="picture.over_time" :picked="filter.from" @pick="pickPeriod" />
    </div>
    <div class="sides">
      <h3>Sentiment</h3>
      <button
        v-for="[side, name] in SIDES"
        :key="side"
        type="button"
        class="btn btn-plain side"
        :aria-pressed="filter.side === side"
        :data-side="side"
        @click="set({ side: filter.side === side ? undefined : side })"
      >
        <span class="sign" :class="sign[side]" aria-hidden="true"></span>{{ name }}
        <span class="number">{{ whole[side] }}</span>
      </button>
      <p class="small quiet" title="Distinct people × the mean of how far each excerpt lies below zero">
        Frustration <b class="figure">{{ figure(frustration.frustration) }}</b> =
        {{ count(frustration.people, 'person', 'people') }} × {{ frustration.negativity.toFixed(2) }}
      </p>
      <p v-if="picture.voices.revenue" class="small quiet">
        € {{ money(picture.voices.revenue) }} a year; each account counts once.
      </p>
    </div>
    <PartBars
      title="Segments"
      :parts="picture.segments"
      none="no segment"
      :picked="filter.segment"
      @pick="set({ segment: $event })"
    />
    <PartBars
      title="Sources"
      :parts="picture.sources"
      :picked="filter.source?.toString()"
      @pick="set({ source: $event === undefined ? undefined : Number($event) })"
    />
    <PartBars
      title="Kinds"
      :parts="picture.kinds"
      :picked="filter.kind"
      @pick="set({ kind: $event as SaidFilter['kind'] })"
    />
    <div v-if="picture.unknown.length" class="unknown" data-unknown>
      <h3>What is not known</h3>
      <ul class="small">
        <li v-for="one in picture.unknown" :key="one">{{ withDays(one) }}</li>
      </ul>
    </div>
  </section>
</template>

<style scoped>
.picture {
  border-block: 1px solid var(--rule);
  display: grid;
  gap: 14px 24px;
  grid-template-columns: repeat(auto-fill, minmax(276px, 1fr));
  margin: 12px 0;
  padding: 12px 0;
}
.wide {
  grid-column: span 2;
}
@media (max-width: 1000px) {
  .wide {
    grid-column: 1 / -1;
  }
}
h3 {
  font-size: 15px;
  margin: 0 0 4px;
}
.side {
  display: flex;
  gap: 8px;
}
.side[aria-pressed='true'] {
  background: var(--rule);
}
.sign {
  align-self: center;
  border: 1px solid var(--ink);
  height: 12px;
  width: 12px;
}
.full {
  background: var(--ink);
}
.half {
  background: var(--field);
  border-color: var(--field);
}
p {
  margin: 6px 0 0;
}
.unknown li::first-letter {
  text-transform: uppercase;
}
.unknown ul {
  margin: 0;
  padding-left: 18px;
}
</style>
