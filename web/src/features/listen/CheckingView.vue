<script setup lang="ts">
import { computed, onMounted, onUnmounted, ref, watch } from 'vue'
import { tinykeys } from 'tinykeys'
import { api, value, type Schemas } from '@/api/client'
import { useToCheck } from '@/api/queries'
import { useSave } from '@/api/save'
import EmptyPlace from '@/shared/EmptyPlace.vue'
import { useSelection } from '@/shared/selection'
import StageFrame from '@/shared/StageFrame.vue'
import { LISTEN } from '@/shared/tabs'
import { count, whole } from '@/shared/words'
import AgreementTable from './AgreementTable.vue'
import CheckCard from './CheckCard.vue'

/** What the engine told is checked one excerpt after another, with one key each. */
type About = Schemas['CheckAbout']
type Way = Schemas['CheckWay']
const ABOUT: readonly [About, string][] = [
  ['kind', 'Kinds'],
  ['finding', 'Findings'],
]
const WAYS: readonly [Way, string, string][] = [
  ['unsure', 'Least sure first', 'You see what the engine says and put it right.'],
  [
    'chance',
    'By chance',
    'What the engine says is hidden until you have said it: this measures how often it is right.',
  ],
  [
    'second',
    'Second look',
    'What somebody else has checked, hidden: this measures how far people agree. It changes nothing.',
  ],
]
const { product, select } = useSelection()
const { save } = useSave()
const about = ref<About>('kind')
const way = ref<Way>('unsure')
const { data, error, isPending, refetch } = useToCheck(product, about, way)

/** What was said here, and what is left for later; neither comes again while this is open. */
const said = ref<{ id: number; words: string; is: string; kept: boolean }[]>([])
const later = ref<number[]>([])
watch([product, about, way], () => {
  later.value = []
  said.value = []
})
const gone = computed(() => new Set([...said.value.map((one) => one.id), ...later.value]))
const next = computed(() => {
  const all = data.value?.excerpts ?? []
  return all.find((one) => !gone.value.has(one.id)) ?? all.find((one) => later.value.includes(one.id))
})
const hint = computed(() => WAYS.find(([name]) => name === way.value)?.[2])

async function say(answer: Schemas['CheckAnswer']) {
  const one = next.value
  if (!one) return
  // The next one comes at once; what could not be kept comes back.
  said.value = [{ id: one.id, words: one.words, is: answer.words ?? 'none of these', kept: false }, ...said.value]
  const body = { excerpt: one.id, about: about.value, way: way.value, said: answer.said }
  const done = await save(value(api.POST('/api/v1/listen/checks', { body })))
  said.value = said.value.flatMap((other) => (other.id !== one.id ? other : done ? { ...other, kept: true } : []))
  // Asked before it was kept, or taken back since: only a new answer tells.
  if (done && asksFor(one.id)) void refetch()
}
const asksFor = (id: number) => data.value?.excerpts.some((one) => one.id === id)
/** What was taken back is asked again. */
watch(data, () => {
  said.value = said.value.filter((one) => !one.kept || !asksFor(one.id))
})
const postpone = () => {
  if (next.value) later.value = [...later.value.filter((id) => id !== next.value?.id), next.value.id]
}
watch(
  () => next.value?.id,
  (id) => id !== undefined && select('excerpt', id),
  { immediate: true },
)

const press = (event: KeyboardEvent, act: () => unknown) => {
  if ((event.target as HTMLElement).closest('input:not([type=radio]), textarea, select, dialog, [role=dialog]')) return
  event.preventDefault()
  void act()
}
const place = (at: number) => next.value?.answers[at]
let forget = () => {}
onMounted(() => {
  const digits = [1, 2, 3, 4, 5, 6, 7, 8, 9].map((digit) => [
    `${digit}`,
    (event: KeyboardEvent) => {
      const answer = place(digit - 1)
      if (answer?.words != null) press(event, () => say(answer))
    },
  ])
  forget = tinykeys(window, {
    ...Object.fromEntries(digits),
    '0': (event: KeyboardEvent) => {
      const none = next.value?.answers.find((one) => one.words == null)
      if (none) press(event, () => say(none))
    },
    y: (event: KeyboardEvent) => {
      const told = next.value?.answers.find((one) => one.said === next.value?.told)
      if (told) press(event, () => say(told))
    },
    l: (event: KeyboardEvent) => press(event, postpone),
  })
})
onUnmounted(() => forget())
</script>

<template>
  <StageFrame :tabs="LISTEN" :busy="isPending" :problem="error?.message">
    <div class="checking">
      <form class="row-flex" @submit.prevent>
        <fieldset class="row-flex">
          <legend>Check</legend>
          <label v-for="[name, label] in ABOUT" :key="name">
            <input v-model="about" type="radio" name="about" :value="name" /> {{ label }}
          </label>
        </fieldset>
        <fieldset class="row-flex">
          <legend>Which</legend>
          <label v-for="[name, label] in WAYS" :key="name">
            <input v-model="way" type="radio" name="way" :value="name" /> {{ label }}
          </label>
        </fieldset>
        <span v-if="data" class="small quiet spacer" data-left>
          {{ said.length }} checked now · {{ whole(data.unsure) }}{{ data.more ? ' or more' : '' }} unsure
        </span>
      </form>
      <p class="small quiet">{{ hint }}</p>
      <CheckCard v-if="next" :key="next.id" :excerpt="next" :about="about" @say="say" @later="postpone" />
      <EmptyPlace v-else-if="data && way === 'second'" title="Nobody else has checked anything that you have not">
        When a colleague has checked excerpts, they come here for a second look.
      </EmptyPlace>
      <EmptyPlace v-else-if="data" title="There is nothing to check">
        Everything that the engine told of this was looked at, or it has told nothing yet. Bring feedback in.
      </EmptyPlace>
      <ul v-if="said.length" class="small said" aria-label="Said just now">
        <li v-for="one in said.slice(0, 3)" :key="one.id">
          <b>{{ one.is }}</b> <span class="quiet" dir="auto">“{{ one.words }}”</span>
        </li>
      </ul>
      <p v-if="data" class="small quiet" data-learned>
        People said or confirmed {{ count(data.judged, 'kind') }}. The engine
        {{ data.learned ? `has learned from ${data.learned} of them` : 'has not learned from them yet' }}; it learns
        next at {{ data.learns_next }}, and tells all kinds anew then but those that somebody said.
      </p>
      <AgreementTable :product="product" />
    </div>
  </StageFrame>
</template>

<style scoped>
.checking {
  padding: 12px 16px 60px;
}
form {
  flex-wrap: wrap;
  gap: 6px 30px;
}
fieldset {
  border: 0;
  flex-wrap: wrap;
  gap: 4px 14px;
  margin: 0;
  padding: 0;
}
legend {
  float: left;
  font-size: 15px;
  font-weight: 650;
  margin-right: 4px;
  width: auto;
}
label {
  min-height: 24px;
}
p {
  margin: 4px 0 10px;
}
.said {
  list-style: none;
  margin: 12px 0 0;
  padding: 0;
}
.said li {
  max-width: 72ch;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
