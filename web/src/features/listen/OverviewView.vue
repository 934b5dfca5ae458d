<script setup lang="ts">
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useSaidOverview } from '@/api/queries'
import EmptyPlace from '@/shared/EmptyPlace.vue'
import PartBars from '@/shared/PartBars.vue'
import PeriodBars from '@/shared/PeriodBars.vue'
import { useSelection } from '@/shared/selection'
import StageFrame from '@/shared/StageFrame.vue'
import { LISTEN, listOf } from '@/shared/tabs'
import { day, percent, whole } from '@/shared/words'
import MoverList from './MoverList.vue'

/** All that was said: how much, by whom, when and with which colour, and what moves. */
const { product } = useSelection()
const route = useRoute()
const router = useRouter()
const one = (name: string) => {
  const value = route.query[name]
  return typeof value === 'string' && value ? value : undefined
}
const from = computed(() => one('from'))
const to = computed(() => one('to'))
const { data, error, isPending } = useSaidOverview(product, from, to)
const set = (change: { from?: string; to?: string }) =>
  router.replace({ query: { ...route.query, from: from.value, to: to.value, ...change } })

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
            :value="from"
            @change="set({ from: ($event.target as HTMLInputElement).value || undefined })"
          />
        </label>
        <label>
          to
          <input
            type="date"
            class="form-control"
            :value="to"
            @change="set({ to: ($event.target as HTMLInputElement).value || undefined })"
          />
        </label>
        <button
          v-if="from || to"
          type="button"
          class="btn btn-outline"
          @click="set({ from: undefined, to: undefined })"
        >
          All of it
        </button>
      </form>
      <EmptyPlace v-if="!data.items" title="Nothing was said here">
        {{ from || to ? 'Nobody said anything in these days.' : 'Bring feedback in to see who says what, and when.' }}
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
          <span v-if="from || to" class="quiet"
            >{{ from ? day(from) : 'the beginning' }} – {{ to ? day(to) : 'today' }}</span
          >
        </p>
        <div class="pictures">
          <div class="wide">
            <PeriodBars title="Over time" :over="data.over_time" @pick="set({ from: $event?.from, to: $event?.to })" />
          </div>
          <MoverList :movers="data.movers" :recent="data.recent" :before="data.before" />
          <PartBars title="Sources" :parts="data.sources" still />
          <PartBars title="Segments" :parts="data.segments" none="no segment" still />
          <PartBars title="Products" :parts="data.products" still />
        </div>
        <p class="small quiet">
          Counted in excerpts. Filled: against, with a sentiment of −0.15 or less; outlined: for, from +0.15 on; grey:
          between them. Press a stretch of time to look at it alone.
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
