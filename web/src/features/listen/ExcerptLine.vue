<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { useSave } from '@/api/save'
import { useSelection } from '@/shared/selection'
import { listOf, thingIn } from '@/shared/tabs'
import { day, percent, words } from '@/shared/words'

/** One excerpt: its words, who said them, its kind and sentiment, and a box to choose it. */
const props = defineProps<{ excerpt: Schemas['ExcerptView']; chosen: boolean; where?: boolean }>()
const emit = defineEmits<{ choose: [chosen: boolean] }>()
const { select, isSelected, product } = useSelection()
const { edit } = useSave()

const KINDS = ['request', 'defect', 'friction', 'help_needed', 'praise', 'habit', 'leaving']
const side = computed(() =>
  props.excerpt.sentiment <= -0.15 ? 'against' : props.excerpt.sentiment >= 0.15 ? 'for' : 'neutral',
)
/** Below this the kind is a guess; what a person said is none. */
const SURE = 0.5
const unsure = computed(() => !props.excerpt.chosen && props.excerpt.sure != null && props.excerpt.sure < SURE)
/** The figure is learned from texts that are hard to tell apart: what belongs is seldom far above this. */
const LIKELY = 0.25
/** Arrows walk through the kinds in the open list; in a closed one each step would be said of the excerpt. */
function open(event: KeyboardEvent) {
  const list = event.target as HTMLSelectElement
  if (!('showPicker' in list)) return
  event.preventDefault()
  list.showPicker()
}
/** Where the same person says it again. */
const repeats = computed(() => {
  const filter = { field: 'repeats', operator: 'any_of', value: [props.excerpt.id] }
  const fields = ['said_on', 'item', 'repeats'].map((name) => ({ name }))
  return listOf('excerpt', { view: 'none', d: JSON.stringify({ kind: 'list', filter, fields }) })
})
const around = ref(false)
const hasMore = computed(() => props.where && props.excerpt.around.some((text) => text.trim()))
const said = computed(() =>
  [props.excerpt.person, props.excerpt.account, day(props.excerpt.said_on), props.excerpt.source]
    .filter(Boolean)
    .join(' · '),
)
</script>

<template>
  <li
    class="card-thing"
    :class="{ 'selected-thing': isSelected('excerpt', excerpt.id), put: excerpt.belongs != null }"
    @focusin="select('excerpt', excerpt.id)"
  >
    <label class="choose">
      <input type="checkbox" :checked="chosen" @change="emit('choose', ($event.target as HTMLInputElement).checked)" />
      <span class="words" dir="auto"
        ><span v-if="around" class="quiet">{{ excerpt.around[0] }}</span
        >{{ excerpt.words }}<span v-if="around" class="quiet">{{ excerpt.around[1] }}</span></span
      >
    </label>
    <div class="row-flex small quiet about">
      <select
        :value="excerpt.kind"
        :aria-label="`Kind of “${excerpt.words}”`"
        @keydown.up.down="open"
        @change="
          edit({ kind: 'excerpt', id: excerpt.id }, excerpt, { kind: ($event.target as HTMLSelectElement).value })
        "
      >
        <option v-for="kind in KINDS" :key="kind" :value="kind">{{ words(kind) }}</option>
      </select>
      <span v-if="unsure" title="The engine is not sure of the kind. Say what it is, and it stays so."
        >kind unsure</span
      >
      <span class="number">{{ side }} {{ excerpt.sentiment.toFixed(2) }}</span>
      <span v-if="excerpt.belongs != null" :title="`${percent(excerpt.belongs)} sure that this excerpt belongs here`"
        >put here by the engine{{ excerpt.belongs < LIKELY ? ', perhaps wrongly' : '' }}</span
      >
      <RouterLink v-if="excerpt.again" class="around" :to="repeats" title="It counts once: the same person said it"
        >said {{ excerpt.again + 1 }} times</RouterLink
      >
      <span v-else-if="excerpt.repeats_id" title="It counts once: the same person said it"
        >said before,
        <RouterLink class="thing" :to="thingIn('excerpt', excerpt.repeats_id)"
          >X{{ excerpt.repeats_id }}</RouterLink
        ></span
      >
      <span v-if="!where && excerpt.phrases.length">about {{ excerpt.phrases.join(', ') }}</span>
      <template v-if="where">
        <RouterLink class="thing" :to="thingIn('feedback_item', excerpt.item_id)">F{{ excerpt.item_id }}</RouterLink>
        <span>{{ said }}</span>
        <button v-if="hasMore" type="button" class="btn-plain around" :aria-expanded="around" @click="around = !around">
          {{ around ? 'less' : 'in context' }}
        </button>
      </template>
      <span v-for="id in where ? [] : excerpt.findings" :key="id">
        in
        <RouterLink class="thing" :to="{ name: 'finding', params: { product, id }, query: { at: `finding:${id}` } }"
          >N{{ id }}</RouterLink
        >
      </span>
    </div>
  </li>
</template>

<style scoped>
/* Nobody has said that it belongs here. */
.put {
  border-style: dashed;
}
.choose {
  cursor: pointer;
  display: flex;
  gap: 10px;
}
input {
  flex: none;
  height: 18px;
  margin-top: 2px;
  width: 18px;
}
.words {
  white-space: pre-line;
}
.around {
  background: none;
  border: 0;
  color: inherit;
  padding: 0;
  text-decoration: underline;
}
.about {
  margin: 4px 0 0 28px;
}
select {
  background: transparent;
  border: 1px solid transparent;
  color: inherit;
  font: inherit;
  margin-left: -4px;
  min-height: 24px;
}
select:hover,
select:focus {
  border-color: var(--field);
}
option {
  background: var(--panel);
  color: var(--ink);
}
</style>
