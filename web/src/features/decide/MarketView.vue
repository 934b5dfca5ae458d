<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, value } from '@/api/client'
import { useMarket } from '@/api/queries'
import { useSave } from '@/api/save'
import AddLine from '@/shared/AddLine.vue'
import EmptyPlace from '@/shared/EmptyPlace.vue'
import { useSelection } from '@/shared/selection'
import StageFrame from '@/shared/StageFrame.vue'
import { DECIDE } from '@/shared/tabs'
import MarketNotes from './MarketNotes.vue'
import MarketPages from './MarketPages.vue'
import MarketResearch from './MarketResearch.vue'
import MarketTable from './MarketTable.vue'

/** What others offer beside our own product, with the note behind each cell, their pages, and research from a draft. */
const { product } = useSelection()
const { data: market, error, isPending } = useMarket(product)
const { save } = useSave()
/** The cell whose notes are open: a capability and a competitor by their numbers. */
const opened = ref<{ capability: number; competitor: number }>()
const empty = computed(() => market.value && !market.value.competitors.length && !market.value.capabilities.length)

const addCompetitor = (name: string) => {
  const body = { product_id: product.value, name, address: null }
  return save(value(api.POST('/api/v1/decide/market/competitors', { body })))
}
const addCapability = (title: string) => {
  const body = { product_id: product.value, title, offers: null, note: null }
  return save(value(api.POST('/api/v1/decide/market/capabilities', { body })))
}
</script>

<template>
  <StageFrame :tabs="DECIDE" :busy="isPending" :problem="error?.message">
    <div v-if="market" class="market" data-market>
      <EmptyPlace v-if="empty" title="Nothing is known of others yet">
        Name who else offers people a way, and what an offer may do for them. Then note what stands on their pages.
      </EmptyPlace>
      <MarketTable v-else v-model="opened" :market="market" />
      <div class="row-flex add">
        <AddLine
          name="A new capability"
          placeholder="what people can do with an offer"
          action="Add the capability"
          :add="addCapability"
        />
        <AddLine
          name="A new competitor"
          placeholder="who else offers a way"
          action="Add the competitor"
          :add="addCompetitor"
        />
      </div>
      <MarketNotes v-if="opened" v-bind="opened" :market="market" @close="opened = undefined" />
      <div class="below">
        <MarketPages :market="market" />
        <MarketResearch />
      </div>
    </div>
  </StageFrame>
</template>

<style scoped>
.market {
  padding: 12px 16px 60px;
  position: relative;
}
.add {
  flex-wrap: wrap;
  gap: 8px 24px;
  margin: 10px 0;
}
.below > * {
  min-width: 0;
}
.below {
  display: grid;
  gap: 12px 28px;
  grid-template-columns: repeat(auto-fit, minmax(320px, 1fr));
  margin-top: 18px;
}
</style>
