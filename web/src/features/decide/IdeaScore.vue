<script setup lang="ts">
import { useEstimates } from '@/api/queries'
import EstimateField from './EstimateField.vue'

/** What people estimate of an idea, by the criteria of a model; that of its product where none is named. */
const props = defineProps<{ id: number; model?: string }>()
const { data } = useEstimates(
  () => props.id,
  () => props.model,
)
</script>

<template>
  <section v-if="data" data-scoring>
    <h3>
      Score it
      <span v-if="data.differ_most" class="small">They differ most about {{ data.differ_most }}.</span>
    </h3>
    <EstimateField
      v-for="one in data.fields"
      :id="id"
      :key="one.field"
      :rev="data.rev"
      :one="one"
      :evidence="data.evidence.confidence"
    />
  </section>
</template>

<style scoped>
h3 {
  font-size: 15px;
  margin: 10px 0 4px;
}
</style>
