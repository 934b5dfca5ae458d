<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import { api, value } from '@/api/client'
import { useMarket } from '@/api/queries'
import { useSave } from '@/api/save'
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
const names = reactive({ competitor: '', capability: '' })
const empty = computed(() => market.value && !market.value.competitors.length && !market.value.capabilities.length)

async function addCompetitor() {
  const body = { product_id: product.value, name: names.competitor, address: null }
  if (await save(value(api.POST('/api/v1/decide/market/competitors', { body })))) names.competitor = ''
}
async function addCapability() {
  const body = { product_id: product.value, title: names.capability, offers: null, note: null }
  if (await save(value(api.POST('/api/v1/decide/market/capabilities', { body })))) names.capability = ''
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
        <form class="row-flex" @submit.prevent="addCapability">
          <input
            v-model="names.capability"
            class="form-control"
            aria-label="A new capability"
            placeholder="what people can do with an offer"
            required
          />
          <button type="submit" class="btn btn-outline">Add the capability</button>
        </form>
        <form class="row-flex" @submit.prevent="addCompetitor">
          <input
            v-model="names.competitor"
            class="form-control"
            aria-label="A new competitor"
            placeholder="who else offers a way"
            required
          />
          <button type="submit" class="btn btn-outline">Add the competitor</button>
        </form>
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
.add .form-control {
  width: 250px;
}
.below {
  display: grid;
  gap: 12px 28px;
  grid-template-columns: repeat(auto-fit, minmax(320px, 1fr));
  margin-top: 18px;
}
</style>
