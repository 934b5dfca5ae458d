<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api, value, type Saved, type Schemas } from '@/api/client'
import { useFindingExcerpts } from '@/api/queries'
import { useSave } from '@/api/save'
import { count } from '@/shared/words'
import ExcerptLine from './ExcerptLine.vue'
import PickFinding from './PickFinding.vue'
import QuoteIn from './QuoteIn.vue'
import type { SaidFilter } from './saidFilter'

/** The excerpts behind a finding; chosen ones can be taken away. */
const props = defineProps<{ id: number; filter?: SaidFilter }>()
const FEW = 50
const MOST = 500
const { save } = useSave()
const limit = ref(FEW)
const { data } = useFindingExcerpts(
  () => props.id,
  () => props.filter ?? {},
  limit,
)
const excerpts = computed(() => data.value?.excerpts)
const all = computed(() => data.value?.all ?? 0)
const emit = defineEmits<{ count: [all: number] }>()
watch(all, (now) => emit('count', now))
const chosen = ref<number[]>([])
watch(
  () => [props.id, props.filter],
  () => {
    chosen.value = []
    limit.value = FEW
  },
)

function choose(excerpt: number, on: boolean) {
  chosen.value = on ? [...chosen.value, excerpt] : chosen.value.filter((one) => one !== excerpt)
}

/** Of those that are chosen, whether the engine put any here. */
const unsaid = computed(() => excerpts.value?.some((one) => one.belongs != null && chosen.value.includes(one.id)))

/** Carries out what is said of the chosen ones, and lets go of them; others may be chosen by then. */
async function say(write: Promise<Saved>) {
  const said = chosen.value
  if (await save(write)) chosen.value = chosen.value.filter((one) => !said.includes(one))
}
const change = (body: Schemas['FindingChange']) =>
  say(value(api.POST('/api/v1/listen/findings/{id}/excerpts', { params: { path: { id: props.id } }, body })))
const belong = () => change({ add: chosen.value })
const takeAway = () => change({ remove: chosen.value })
const moveTo = (other: number) => change({ remove: chosen.value, move_to: other })
function split() {
  const body = { excerpts: chosen.value }
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
      <h3>{{ count(all, 'excerpt') }}</h3>
      <template v-if="chosen.length">
        <button v-if="unsaid" type="button" class="btn btn-outline" aria-keyshortcuts="Alt+P" @click="belong">
          {{ count(chosen.length, 'belongs', 'belong') }} here
        </button>
        <button type="button" class="btn btn-outline" aria-keyshortcuts="Alt+K" @click="takeAway">
          Take {{ chosen.length }} away
        </button>
        <button type="button" class="btn btn-outline" aria-keyshortcuts="Alt+O" @click="split">
          A finding of their own
        </button>
        <template v-if="chosen.length === 2">
          <button type="button" class="btn btn-outline" aria-keyshortcuts="Alt+S" @click="pair('same')">
            The same
          </button>
          <button type="button" class="btn btn-outline" aria-keyshortcuts="Alt+X" @click="pair('not_same')">
            Never together
          </button>
        </template>
        <PickFinding label="Move to …" :without="[id]" shortcut="Alt+V" @pick="moveTo" />
        <QuoteIn :excerpts="chosen" @done="chosen = []" />
      </template>
    </div>
    <ul class="stacked">
      <ExcerptLine
        v-for="excerpt in excerpts"
        :key="excerpt.id"
        :excerpt="excerpt"
        :chosen="chosen.includes(excerpt.id)"
        where
        @choose="choose(excerpt.id, $event)"
      />
    </ul>
    <button
      v-if="(excerpts?.length ?? 0) < all && limit < MOST"
      type="button"
      class="btn btn-outline"
      @click="limit = Math.min(MOST, limit + 150)"
    >
      Show more
    </button>
    <p v-else-if="(excerpts?.length ?? 0) < all" class="small quiet">
      The newest {{ excerpts?.length }} of {{ count(all, 'excerpt') }}.
      {{ filter ? 'Pick a part of a picture to see others.' : 'Open the finding to see others by their parts.' }}
    </p>
  </div>
</template>

<style scoped>
.head {
  background: var(--ground);
  flex-wrap: wrap;
  min-height: 34px;
  padding: 4px 0;
  position: sticky;
  top: 0;
  z-index: 1;
}
h3 {
  font-size: 15px;
  margin: 0;
}
</style>
