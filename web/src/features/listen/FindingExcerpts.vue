<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api, value, type Saved } from '@/api/client'
import { useFindingExcerpts, useFindings } from '@/api/queries'
import { useSave } from '@/api/save'
import { useSelection } from '@/shared/selection'
import { count } from '@/shared/words'
import ExcerptLine from './ExcerptLine.vue'

/** The excerpts behind a finding; chosen ones can be taken away. */
const props = defineProps<{ id: number }>()
const { save } = useSave()
const { data: excerpts } = useFindingExcerpts(() => props.id)
const chosen = ref<number[]>([])
watch(
  () => props.id,
  () => (chosen.value = []),
)

function choose(excerpt: number, on: boolean) {
  chosen.value = on ? [...chosen.value, excerpt] : chosen.value.filter((one) => one !== excerpt)
}

const { product } = useSelection()
const { data: findings } = useFindings(product)
const others = computed(() => findings.value?.filter((one) => one.id !== props.id) ?? [])
/** Of those that are chosen, whether the engine put any here. */
const unsaid = computed(() => excerpts.value?.some((one) => one.belongs != null && chosen.value.includes(one.id)))

/** Carries out what is said of the chosen ones, and lets go of them; others may be chosen by then. */
async function say(write: Promise<Saved>) {
  const said = chosen.value
  if (await save(write)) chosen.value = chosen.value.filter((one) => !said.includes(one))
}
const change = (id: number, add: number[], remove: number[]) =>
  value(api.POST('/api/v1/listen/findings/{id}/excerpts', { params: { path: { id } }, body: { add, remove } }))
const belong = () => say(change(props.id, chosen.value, []))
const takeAway = () => say(change(props.id, [], chosen.value))
async function moveTo(other: number) {
  const moved = chosen.value
  if (await save(change(other, moved, []))) await say(change(props.id, [], moved))
}
function split() {
  const first = excerpts.value?.find((one) => one.id === chosen.value[0])
  const body = { title: (first?.words ?? '').slice(0, 300), excerpts: chosen.value }
  return say(value(api.POST('/api/v1/listen/findings/{id}/split', { params: { path: { id: props.id } }, body })))
}
/** Two excerpts say the same, or are never to stand together. */
function pair(kind: 'same' | 'not_same') {
  const [one, other] = chosen.value
  if (one === undefined || other === undefined) return
  const body = { kind, from: { kind: 'excerpt' as const, id: one }, to: { kind: 'excerpt' as const, id: other } }
  return say(value(api.POST('/api/v1/links', { body })))
}
</script>

<template>
  <div>
    <div class="row-flex head">
      <h3>{{ count(excerpts?.length ?? 0, 'excerpt') }}</h3>
      <template v-if="chosen.length">
        <button v-if="unsaid" type="button" class="btn btn-outline" @click="belong">
          {{ count(chosen.length, 'belongs', 'belong') }} here
        </button>
        <button type="button" class="btn btn-outline" @click="takeAway">Take {{ chosen.length }} away</button>
        <button type="button" class="btn btn-outline" @click="split">A finding of their own</button>
        <template v-if="chosen.length === 2">
          <button type="button" class="btn btn-outline" @click="pair('same')">The same</button>
          <button type="button" class="btn btn-outline" @click="pair('not_same')">Never together</button>
        </template>
        <select
          v-if="others.length"
          class="form-select"
          aria-label="Move the chosen excerpts to"
          @change="moveTo(Number(($event.target as HTMLSelectElement).value))"
        >
          <option value="">Move to …</option>
          <option v-for="one in others" :key="one.id" :value="one.id">N{{ one.id }} {{ one.title }}</option>
        </select>
      </template>
    </div>
    <ul>
      <ExcerptLine
        v-for="excerpt in excerpts"
        :key="excerpt.id"
        :excerpt="excerpt"
        :chosen="chosen.includes(excerpt.id)"
        where
        @choose="choose(excerpt.id, $event)"
      />
    </ul>
  </div>
</template>

<style scoped>
.head {
  background: var(--paper);
  flex-wrap: wrap;
  min-height: 34px;
  padding: 4px 0;
  position: sticky;
  top: 0;
  z-index: 1;
}
.form-select {
  max-width: 220px;
}
h3 {
  font-size: 15px;
  margin: 0;
}
ul {
  display: grid;
  gap: 8px;
  list-style: none;
  margin: 0;
  padding: 0;
}
</style>
