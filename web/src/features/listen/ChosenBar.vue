<script setup lang="ts">
import { ref } from 'vue'
import { api, value } from '@/api/client'
import { useSave } from '@/api/save'
import { useSelection } from '@/shared/selection'
import { count } from '@/shared/words'
import PickFinding from './PickFinding.vue'
import QuoteIn from './QuoteIn.vue'

/** What to do with chosen excerpts: a new finding, or one that is there. */
const chosen = defineModel<number[]>({ required: true })
const { product } = useSelection()
const { save } = useSave()
const title = ref('')

async function make() {
  const body = { product_id: product.value, title: title.value, excerpts: chosen.value }
  if (await save(value(api.POST('/api/v1/listen/findings', { body })))) {
    title.value = ''
    chosen.value = []
  }
}

async function addTo(id: number) {
  const change = { params: { path: { id } }, body: { add: chosen.value, remove: [] } }
  if (await save(value(api.POST('/api/v1/listen/findings/{id}/excerpts', change)))) chosen.value = []
}
</script>

<template>
  <form class="bar" @submit.prevent="make">
    <b>{{ count(chosen.length, 'excerpt') }} chosen</b>
    <label class="grow" for="finding-title">
      <span class="visually-hidden">What they say, in one sentence</span>
      <BFormInput id="finding-title" v-model="title" placeholder="What they say, in one sentence" required />
    </label>
    <button type="submit" class="btn btn-primary">Make a finding</button>
    <PickFinding label="or put behind …" shortcut="Alt+V" @pick="addTo" />
    <QuoteIn :excerpts="chosen" @done="chosen = []" />
    <button type="button" class="btn btn-plain" @click="chosen = []">Clear</button>
  </form>
</template>

<style scoped>
.bar {
  align-items: center;
  background: var(--panel);
  border-top: 1px solid var(--rule);
  bottom: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  padding: 8px 16px;
  position: sticky;
}
.grow {
  flex: 1 1 220px;
}
</style>
