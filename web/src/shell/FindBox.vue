<script setup lang="ts">
import { computed, ref, useId, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, ApiProblem, value, type Schemas, type ThingKind } from '@/api/client'
import { useSearch } from '@/api/collections'
import { showProblem } from '@/api/save'
import { placeOf, useSelection } from '@/shared/selection'
import { commandsOf, type Command } from './commands'

/** Finds a thing by its reference or its words, feedback by its words, and what can be done by its name. */
const emit = defineEmits<{ undo: []; redo: []; keys: []; note: [] }>()
const { product } = useSelection()
const router = useRouter()
const text = ref('')
const asked = ref('')
const open = ref(false)
const at = ref(0)
const field = ref<HTMLInputElement>()
const id = useId()
/** Only things of one sort; everything where none is picked. */
const kind = ref<ThingKind>()
const { data, isLoading } = useSearch(product, asked, kind)
const SORTS: readonly [ThingKind | undefined, string][] = [
  [undefined, 'everything'],
  ['feedback_item', 'feedback'],
  ['finding', 'findings'],
  ['idea', 'ideas'],
  ['work_item', 'work'],
  ['document', 'documents'],
  ['page', 'pages'],
]

defineExpose({ focus: () => field.value?.focus() })

let wait: ReturnType<typeof setTimeout> | undefined
watch(text, (words) => {
  clearTimeout(wait)
  wait = setTimeout(() => (asked.value = words.trim()), 120)
  at.value = 0
})

interface Found {
  key: string
  head?: string
  reference?: string
  title: string
  snippet?: string
  go: () => unknown
}

const commands = computed<Command[]>(() =>
  commandsOf(router, product.value, {
    undo: () => emit('undo'),
    redo: () => emit('redo'),
    keys: () => emit('keys'),
    note: () => emit('note'),
  }),
)
const hit = (hit: Schemas['SearchHit'], n: number, head: string): Found => ({
  key: `${hit.thing.kind} ${hit.thing.id} ${hit.title}`,
  head: n === 0 ? head : undefined,
  reference: hit.reference,
  title: hit.title,
  snippet: hit.thing.kind === 'feedback_item' || !hit.snippet.includes('‹') ? hit.snippet : undefined,
  go: () => router.push(placeOf(hit.thing, product.value)),
})
const acts = computed<Found[]>(() => {
  const words = text.value.trim().toLowerCase().split(/\s+/)
  const fits = (label: string) => words.every((word) => label.toLowerCase().includes(word))
  const fitting = (kind.value ? [] : commands.value).filter((one) => fits(one.label)).slice(0, 6)
  return fitting.map((one) => ({ key: one.label, title: one.label, go: one.run }))
})
/** What is called by the words that were typed comes first, the rest of what can be done last. One word is looked for first. */
const named = computed(() => {
  const words = text.value.trim().toLowerCase()
  return words.includes(' ') ? acts.value.filter((one) => one.title.toLowerCase().startsWith(words)) : []
})
const headed = (all: readonly Found[]) => all.map((one, n) => (n === 0 ? { ...one, head: 'To do' } : one))
const found = computed<Found[]>(() => {
  const words = text.value.trim()
  if (words.length < 2) return []
  // What was found for the words so far stays while more is typed; for other words nothing is shown before it is found.
  const found = asked.value.length > 1 && words.startsWith(asked.value) ? data.value : undefined
  return [
    ...headed(named.value),
    ...(found?.things ?? []).map((one, n) => hit(one, n, 'Things')),
    ...(found?.feedback ?? []).slice(0, 8).map((one, n) => hit(one, n, 'Feedback')),
    ...(found?.findings ?? []).map((one, n) => hit(one, n, 'Findings that say so')),
    ...(found?.pages ?? []).map((one, n) => ({
      ...hit(one, n, 'Documents and pages that say so'),
      snippet: `${one.title}: ${one.snippet}`,
    })),
    ...(found?.alike ?? []).map((one, n) => ({ ...hit(one, n, 'Said in other words'), key: `alike ${one.thing.id}` })),
    ...headed(acts.value.filter((one) => !named.value.includes(one))),
  ]
})
const shown = computed(() => open.value && text.value.trim().length > 1)
/** The parts of a snippet, the found words apart. */
const parts = (snippet: string) =>
  snippet.split(/(‹[^›]*›)/).map((part) => ({ mark: part.startsWith('‹'), text: part.replace(/[‹›]/g, '') }))

function go(one: Found) {
  leave()
  void one.go()
}

function leave() {
  open.value = false
  kind.value = undefined
  text.value = ''
  field.value?.blur()
}

async function submit() {
  const words = text.value.trim()
  if (!words) return
  if (/^[a-z]\d+$/i.test(words)) return reference(words)
  const chosen = found.value[at.value]
  if (chosen && asked.value === words) return go(chosen)
  // Whoever is faster than the list is taken to what fits best.
  if (named.value[0]) return go(named.value[0])
  try {
    const query = { product: product.value, words, kind: kind.value }
    const result = await value(api.GET('/api/v1/search', { params: { query } }))
    const best = result.things[0] ?? result.feedback[0] ?? result.alike[0]
    if (best) return go(hit(best, 1, ''))
    if (acts.value[0]) return go(acts.value[0])
  } catch (error) {
    if (error instanceof ApiProblem) showProblem(error.body)
  }
}

async function reference(words: string) {
  try {
    const { of } = await value(api.GET('/api/v1/references/{reference}', { params: { path: { reference: words } } }))
    leave()
    await router.push(placeOf(of.thing, of.product_id ?? product.value))
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    showProblem(error.body)
  }
}

/** At the ends of the words, the arrows go from sort to sort. */
function sortBy(by: number, event: KeyboardEvent) {
  const field = event.target as HTMLInputElement
  const atEnd = by > 0 ? field.selectionEnd === text.value.length : field.selectionStart === 0
  if (!shown.value || !atEnd) return
  event.preventDefault()
  const now = SORTS.findIndex(([sort]) => sort === kind.value)
  kind.value = SORTS[Math.max(0, Math.min(SORTS.length - 1, now + by))]?.[0]
  at.value = 0
}

function step(by: number) {
  at.value = Math.max(0, Math.min(found.value.length - 1, at.value + by))
  document.getElementById(`${id}-${at.value}`)?.scrollIntoView({ block: 'nearest' })
}
</script>

<template>
  <form class="find" role="search" @submit.prevent="submit">
    <label>
      <span class="visually-hidden">Find a reference, words in anything, or something to do</span>
      <input
        ref="field"
        v-model="text"
        type="text"
        role="combobox"
        placeholder="/ find"
        autocomplete="off"
        :aria-expanded="shown"
        :aria-controls="id"
        :aria-activedescendant="shown && found.length ? `${id}-${at}` : undefined"
        @focus="open = true"
        @blur="open = false"
        @keydown.esc="leave"
        @keydown.down.prevent="step(1)"
        @keydown.up.prevent="step(-1)"
        @keydown.right="sortBy(1, $event)"
        @keydown.left="sortBy(-1, $event)"
      />
    </label>
    <div v-show="shown" class="found">
      <div class="sorts" role="group" aria-label="Look in">
        <button
          v-for="[sort, words] in SORTS"
          :key="words"
          type="button"
          class="btn btn-plain"
          tabindex="-1"
          :aria-pressed="sort === kind"
          @pointerdown.prevent="kind = sort"
        >
          {{ words }}
        </button>
      </div>
      <ul :id="id" role="listbox" aria-label="Found" data-found>
        <template v-for="(one, n) in found" :key="one.key">
          <li v-if="one.head" class="head small quiet" role="presentation">{{ one.head }}</li>
          <li
            :id="`${id}-${n}`"
            role="option"
            :aria-selected="n === at"
            tabindex="-1"
            :class="{ on: n === at }"
            @pointerdown.prevent="go(one)"
          >
            <span v-if="one.reference" class="small quiet">{{ one.reference }}</span>
            <template v-if="one.snippet">
              <span
                ><template v-for="(part, m) in parts(one.snippet)" :key="m"
                  ><mark v-if="part.mark">{{ part.text }}</mark
                  ><template v-else>{{ part.text }}</template></template
                ></span
              >
            </template>
            <span v-else>{{ one.title }}</span>
          </li>
        </template>
        <li v-if="found.length === 0" class="quiet" role="presentation">
          {{ isLoading || asked !== text.trim() ? 'Looking …' : 'Nothing has all of these words.' }}
        </li>
      </ul>
    </div>
  </form>
</template>

<style scoped>
.find {
  position: relative;
}
input {
  background: var(--paper);
  border: 1px solid var(--rule);
  border-radius: 4px;
  color: var(--ink);
  font-size: 13.5px;
  min-height: 26px;
  padding: 1px 7px;
  transition: width 0.15s;
  width: 66px;
}
input:focus {
  border-color: var(--ink);
  outline: 1px solid var(--ink);
  width: 150px;
}
input::placeholder {
  color: var(--quiet);
  opacity: 1;
}
.found {
  background: var(--panel);
  border: 1px solid var(--field);
  border-radius: 6px;
  margin-top: 4px;
  position: absolute;
  right: 0;
  width: min(460px, calc(100vw - 24px));
  z-index: 20;
}
.sorts {
  border-bottom: 1px solid var(--rule);
  display: flex;
  flex-wrap: wrap;
  padding: 4px 8px;
}
.sorts .btn {
  color: var(--quiet);
  font-weight: 400;
  text-decoration-color: transparent;
}
.sorts .btn[aria-pressed='true'] {
  color: var(--ink);
  font-weight: 650;
  text-decoration-color: var(--ink);
}
ul {
  list-style: none;
  margin: 0;
  max-height: min(64vh, 520px);
  overflow: auto;
  padding: 6px;
}
li {
  border-radius: 4px;
  cursor: pointer;
  display: flex;
  gap: 8px;
  padding: 4px 8px;
}
.head {
  cursor: default;
  padding-top: 6px;
}
.on {
  background: var(--paper);
  outline: 1px solid var(--ink);
}
mark {
  background: transparent;
  color: inherit;
  font-weight: 700;
  padding: 0;
  text-decoration: underline;
}
</style>
