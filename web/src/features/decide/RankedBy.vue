<script setup lang="ts">
import { api, value } from '@/api/client'
import { useSave } from '@/api/save'
import { useSelection } from '@/shared/selection'
import type { Model } from './scores'

/** By which model ideas are ranked, and how many make the cut; `of` something that keeps both itself, such as a report. */
const props = defineProps<{ models: readonly Model[]; model?: Model; top: number; of?: string }>()
const emit = defineEmits<{ by: [{ model?: string; top?: number }] }>()
const { product } = useSelection()
const { save } = useSave()
const use = () =>
  props.model &&
  save(value(api.POST('/api/v1/decide/models/use', { body: { product: product.value, key: props.model.key } })))
</script>

<template>
  <div class="row-flex by">
    <button v-if="model && !model.used && !of" type="button" class="btn btn-plain" @click="use">
      Rank by it from now on
    </button>
    <label class="row-flex"
      ><span class="small quiet">by</span>
      <select
        class="form-select"
        aria-label="Scoring model"
        :value="model?.key"
        @change="emit('by', { model: ($event.target as HTMLSelectElement).value })"
      >
        <option v-for="one in models" :key="one.key" :value="one.key">{{ one.definition.title }}</option>
      </select></label
    >
    <label class="row-flex"
      ><span class="small quiet">the first</span>
      <input
        class="form-control"
        type="number"
        min="1"
        max="100"
        aria-label="How many make the cut"
        :value="top"
        @change="emit('by', { top: Number(($event.target as HTMLInputElement).value) })"
    /></label>
  </div>
</template>

<style scoped>
.by {
  flex-wrap: wrap;
}
.form-select {
  width: 170px;
}
.form-control {
  width: 64px;
}
</style>
