<script setup lang="ts">
import { computed } from 'vue'
import { useSaidOverview } from '@/api/queries'
import EmptyPlace from '@/shared/EmptyPlace.vue'
import PartBars from '@/shared/PartBars.vue'
import PeriodBars from '@/shared/PeriodBars.vue'
import { useSelection } from '@/shared/selection'
import StageFrame from '@/shared/StageFrame.vue'
import { LISTEN, listOf } from '@/shared/tabs'
import { percent, whole } from '@/shared/words'
import MoverList from './MoverList.vue'
import { toldFilter, useSaidFilter, type SaidFilter } from './saidFilter'

/** All that was said: how much, by whom, when and with which colour, and what moves. */
const { product } = useSelection()
const filter = useSaidFilter()
const { data, error, isPending } = useSaidOverview(product, filter)
const set = (change: SaidFilter) => (filter.value = { ...filter.value, ...change })
const only = computed(() => toldFilter(filter.value, data.value?.sources ?? []))

const unseen = computed(() => (data.value?.items ? data.value.unseen / data.value.items : 0))
</script>

<template>
  <StageFrame :tabs="LISTEN" :busy="isPending" :problem="error?.message">
    <div v-if="data" class="overview" data-overview>
      <form class="row-flex" @submit.prevent>
        <label>
          Said from
          <input
            type="date"
            class="form-control"
            :value="filter.from"
            @change="set({ from: ($event.target as HTMLInputElement).value || undefined })"
          />
        </label>
        <label>
          to
          <input
            type="date"
            class="form-control"
            :value="filter.to"
            @change="set({ to: ($event.target as HTMLInputElement).value || undefined })"
          />
        </label>
        <button
          v-for="[words, without] in only"
          :key="words"
          type="button"
          class="btn btn-outline"
          :aria-label="`${words}: take this away`"
          data-only
          @click="filter = without"
        >
          {{ words }} ×
        </button>
      </form>
      <EmptyPlace v-if="!data.items" title="Nothing was said here">
        {{ only.length ? 'Nobody said anything of this sort.' : 'Bring feedback in to see who says what, and when.' }}
      </EmptyPlace>
      <template v-else>
        <p class="row-flex facts">
          <span
            ><b class="figure">{{ whole(data.items) }}</b> feedback items</span
          >
          <span data-unseen
            ><b class="figure">{{ percent(unseen) }}</b> that nobody has looked at:
            <RouterLink class="thing" :to="listOf('feedback_item', { view: 'unread' })"
              >{{ whole(data.unseen) }} unread</RouterLink
            ></span
          >
        </p>
        <div class="pictures">
          <div class="wide">
            <PeriodBars title="Over time" :over="data.over_time" @pick="set({ from: $event?.from, to: $event?.to })" />
          </div>
          <MoverList :movers="data.movers" :recent="data.recent" :before="data.before" />
          <PartBars
            title="Sources"
            :parts="data.sources"
            :picked="filter.source?.toString()"
            @pick="set({ source: $event === undefined ? undefined : Number($event) })"
          />
          <PartBars
            title="Segments"
            :parts="data.segments"
            none="no segment"
            :picked="filter.segment"
            @pick="set({ segment: $event })"
          />
          <PartBars title="Products" :parts="data.products" still />
        </div>
        <p class="small quiet">
          Counted in excerpts. Filled: against, with a sentiment of −0.15 or less; outlined: for, from +0.15 on; grey:
          between them. Press a stretch of time, a source or a segment to look at it alone; what moves is told of all.
        </p>
      </template>
    </div>
  </StageFrame>
</template>

<style scoped>
.overview {
  padding: 12px 16px 60px;
}
form,
label {
  align-items: center;
  display: flex;
  gap: 8px;
}
.form-control {
  width: 150px;
}
.facts {
  gap: 26px;
  margin: 12px 0;
}
.pictures {
  display: grid;
  gap: 18px 24px;
  grid-template-columns: repeat(auto-fill, minmax(276px, 1fr));
}
.wide {
  grid-column: span 2;
}
@media (max-width: 1000px) {
  .wide {
    grid-column: 1 / -1;
  }
}
</style>
