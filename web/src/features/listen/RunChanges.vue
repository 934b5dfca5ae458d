<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { useSelection } from '@/shared/selection'
import { count, whole } from '@/shared/words'

/** All that a run would change; what is not chosen is left as it is. */
const props = defineProps<{ run: Schemas['RunView']; taken: boolean; busy: boolean }>()
const emit = defineEmits<{ take: [leave: number[]] }>()
const { product } = useSelection()
const left = ref(new Set<number>())
const chosen = computed(() => props.run.changes.length - left.value.size)
const largest = computed(() => Math.max(1, ...props.run.changes.map((one) => one.excerpts)))
const nothing = computed(() => props.run.changes.length === 0 && props.run.going.length === 0)

function choose(place: number, on: boolean) {
  const next = new Set(left.value)
  if (on) next.delete(place)
  else next.add(place)
  left.value = next
}
/** Leaves the new ones that rest on fewer excerpts than this. */
const LEAST = [3, 5, 8, 13, 21]
function atLeast(least: number) {
  const small = props.run.changes.filter((one) => one.finding == null && one.excerpts < least)
  left.value = new Set(small.map((one) => one.place))
}
const all = (on: boolean) => (left.value = new Set(on ? [] : props.run.changes.map((one) => one.place)))
/** What would change of a finding, in words. */
function change(one: Schemas['RunFindingView']): string {
  if (one.finding == null) return 'new'
  const parts = [one.added ? `${whole(one.added)} more` : '', one.left ? `${whole(one.left)} fewer` : '']
  return parts.filter(Boolean).join(', ')
}
</script>

<template>
  <section aria-label="What this run would change" data-run>
    <div class="row-flex head">
      <h2>{{ taken ? 'What this run changed' : 'What this run would change' }}</h2>
      <template v-if="!taken && !nothing">
        <button type="button" class="btn btn-primary" :disabled="busy || chosen === 0" @click="emit('take', [...left])">
          Take {{ chosen === run.changes.length ? 'all' : '' }} {{ whole(chosen) }}
        </button>
        <label class="small"
          >new ones of at least
          <select aria-label="Excerpts at least" @change="atLeast(Number(($event.target as HTMLSelectElement).value))">
            <option v-for="least in LEAST" :key="least" :value="least">{{ least }}</option>
          </select>
          excerpts</label
        >
        <button type="button" class="btn btn-plain" @click="all(left.size > 0)">
          {{ left.size ? 'Choose all' : 'Choose none' }}
        </button>
      </template>
    </div>
    <p v-if="nothing" class="quiet">Nothing: the findings stand as this run would make them.</p>
    <p v-if="run.going.length" class="small">
      {{ count(run.going.length, 'suggestion') }} that nobody touched would go: {{ run.going.join(' · ') }}
    </p>
    <ul class="stacked">
      <li v-for="one in run.changes" :key="one.place" class="guessed" :class="{ left: left.has(one.place) }">
        <label class="row-flex">
          <input
            v-if="!taken"
            type="checkbox"
            :checked="!left.has(one.place)"
            @change="choose(one.place, ($event.target as HTMLInputElement).checked)"
          />
          <b dir="auto">{{ one.title }}</b>
        </label>
        <div class="row-flex small">
          <svg width="80" height="9" aria-hidden="true">
            <rect :width="Math.max(2, (80 * one.excerpts) / largest)" height="9" fill="currentColor" />
          </svg>
          <span class="number">{{ count(one.excerpts, 'excerpt') }}</span>
          <span>{{ change(one) }}</span>
          <RouterLink
            v-if="one.finding != null"
            class="thing"
            :to="{ name: 'finding', params: { product, id: one.finding }, query: { at: `finding:${one.finding}` } }"
            >N{{ one.finding }}</RouterLink
          >
          <span class="quiet">{{ one.phrases.join(' · ') }}</span>
        </div>
        <ul class="says small stacked">
          <li v-for="(words, at) in one.says" :key="at" dir="auto">{{ words }}</li>
        </ul>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.head {
  background: var(--paper);
  min-height: 44px;
  position: sticky;
  top: 0;
  z-index: 1;
}
h2 {
  font-size: 17px;
  margin: 0;
}
.row-flex {
  flex-wrap: wrap;
}
input {
  height: 18px;
  width: 18px;
}
svg {
  color: var(--quiet);
}
.left {
  opacity: 0.6;
}
.says {
  gap: 2px;
  margin: 4px 0 0;
}
.says li::before {
  color: var(--quiet);
  content: '“ ';
}
</style>
