<script setup lang="ts">
import { computed, reactive, ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { useScores } from '@/api/queries'
import { useSelection } from '@/shared/selection'
import { told, type Model } from './scores'

/** The same ideas by another model, or by other weights that are only tried, side by side with the changed places. */
const props = defineProps<{ scores: Schemas['Scores']; models: readonly Model[]; top: number }>()
const { product } = useSelection()
const key = ref(props.models.find((one) => one.definition.formula == null)?.key ?? props.models[0]?.key ?? '')
const other = computed(() => props.models.find((one) => one.key === key.value))
const weights = reactive<Record<string, number>>({})
watch(
  other,
  (model) => {
    for (const old of Object.keys(weights)) delete weights[old]
    for (const one of model?.definition.criteria ?? []) weights[one.key] = one.weight ?? 1
  },
  { immediate: true },
)
const weighted = computed(() => other.value?.definition.formula == null)
const definition = computed(() => {
  const of = other.value?.definition
  return of && { ...of, criteria: of.criteria.map((one) => ({ ...one, weight: weights[one.key] ?? one.weight })) }
})
const { data: tried, error } = useScores(() =>
  definition.value ? { product: product.value, definition: definition.value, top: props.top } : undefined,
)
const lines = computed(() =>
  (tried.value?.ideas ?? []).map((one) => ({
    ...one,
    before: props.scores.ideas.find((other) => other.idea === one.idea)?.rank,
  })),
)
const moved = (before: number | null | undefined, now: number | null | undefined) => {
  if (before == null || now == null) return ''
  if (before === now) return 'the same'
  return before > now ? `${before - now} up` : `${now - before} down`
}
</script>

<template>
  <section class="compare" data-compare>
    <div class="row-flex">
      <label class="row-flex"
        ><span class="small">Beside</span>
        <select v-model="key" class="form-select" aria-label="The other model">
          <option v-for="one in models" :key="one.key" :value="one.key">{{ one.definition.title }}</option>
        </select></label
      >
      <template v-if="weighted">
        <label v-for="one in other?.definition.criteria" :key="one.key" class="row-flex"
          ><span class="small quiet">{{ one.label }}</span>
          <input v-model.number="weights[one.key]" class="form-control" type="number" min="0" step="0.5"
        /></label>
      </template>
      <span class="small quiet">tried only, nothing is kept</span>
    </div>
    <p v-if="error" role="alert">{{ error.message }}</p>
    <table v-if="tried" class="list" aria-label="Two rankings side by side">
      <thead>
        <tr>
          <th scope="col">Idea</th>
          <th scope="col" class="number">By {{ scores.model.definition.title }}</th>
          <th scope="col" class="number">By {{ tried.model.definition.title }}</th>
          <th scope="col">Moves</th>
          <th scope="col" class="number">Median</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in lines" :key="one.idea">
          <td>I{{ one.idea }} {{ one.title }}</td>
          <td class="number">{{ one.before ?? '–' }}</td>
          <td class="number">{{ one.rank ?? '–' }}</td>
          <td>{{ moved(one.before, one.rank) }}</td>
          <td class="number">{{ told(one.spread?.median) }}</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.compare {
  background: var(--panel);
  border-bottom: 1px solid var(--rule);
  border-top: 1px solid var(--rule);
  padding: 8px 16px 12px;
}
.row-flex {
  flex-wrap: wrap;
  gap: 4px 12px;
}
.form-select {
  width: 180px;
}
.form-control {
  width: 70px;
}
table {
  margin-top: 8px;
}
</style>
