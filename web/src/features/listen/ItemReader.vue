<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useItem } from '@/api/queries'
import { day, figure, words } from '@/shared/words'
import ExcerptLine from './ExcerptLine.vue'
import ItemText from './ItemText.vue'
import RecordingPlayer from './RecordingPlayer.vue'

/** One item: all its words with the excerpts marked, and the excerpts to choose from. */
const props = defineProps<{ id: number; at?: number }>()
const chosen = defineModel<number[]>({ required: true })
const { data: item } = useItem(() => props.id)

/** The name of the language, where it is not the one that the engine was made for. */
const foreign = computed(() => {
  const language = item.value?.parts.find((part) => part.language)?.language
  return language === 'English' ? undefined : language
})
const beside = computed(() => Object.entries(JSON.parse(item.value?.extra ?? '{}') as Record<string, string>))
const said = computed(() => {
  const it = item.value
  if (!it) return ''
  const rating = it.rating == null ? undefined : `rated ${figure(it.rating)}`
  const nameless = it.unproved ? `says to be ${it.unproved} (unproved)` : 'nameless'
  return [it.person ?? nameless, it.account, day(it.said_on) || 'no day', it.source, rating].filter(Boolean).join(' · ')
})

/** A long one begins with its key points, each of which leads to its place. */
const points = computed(() =>
  (item.value?.key_points ?? []).flatMap((id) => item.value?.parts.find((part) => part.id === id) ?? []),
)
const seen = ref<number>()
function seePoint(id: number) {
  seen.value = id
  document.getElementById(`said-${id}`)?.scrollIntoView({ block: 'center' })
}
/** The kind whose excerpts are picked out in the text. */
const kind = ref<string>()
watch(
  () => props.id,
  () => {
    kind.value = undefined
    seen.value = undefined
  },
)
const kinds = computed(() => {
  const counts = new Map<string, number>()
  for (const part of item.value?.parts ?? []) counts.set(part.kind, (counts.get(part.kind) ?? 0) + 1)
  return [...counts].sort((a, b) => b[1] - a[1])
})
const kindOf = computed(() => new Map(item.value?.parts.map((part) => [part.id, part.kind])))
const stands = (id: number) =>
  chosen.value.includes(id) || id === props.at || id === seen.value || kindOf.value.get(id) === kind.value

/** Where its recording stands, in milliseconds. */
const heardAt = ref<number>()
const player = ref<InstanceType<typeof RecordingPlayer>>()

function choose(id: number, on: boolean) {
  chosen.value = on ? [...chosen.value, id] : chosen.value.filter((one) => one !== id)
}
</script>

<template>
  <article v-if="item" class="item">
    <h2 class="small quiet">F{{ item.id }} · {{ said }}</h2>
    <p v-if="item.contradicts" class="small" data-contradicts>
      The rating says the opposite of the words: irony, a slip, or a scale read the wrong way round. Look yourself.
    </p>
    <section v-if="points.length" class="points" data-points>
      <h3>Key points, in its own words</h3>
      <ul>
        <li v-for="point in points" :key="point.id">
          <button type="button" class="point" dir="auto" @click="seePoint(point.id)">{{ point.words }}</button>
        </li>
      </ul>
    </section>
    <div v-if="kinds.length > 1" class="row-flex small kinds" role="group" aria-label="Pick out a kind in the text">
      <button
        v-for="[name, many] in kinds"
        :key="name"
        type="button"
        class="btn btn-plain"
        :aria-pressed="kind === name"
        @click="kind = kind === name ? undefined : name"
      >
        {{ words(name) }} {{ many }}
      </button>
    </div>
    <RecordingPlayer v-if="item.turns" ref="player" v-model:at="heardAt" :item="item" />
    <ItemText :item="item" :stands="stands" :heard-at="heardAt" @hear="player?.go($event)" />
    <h3>What it says</h3>
    <ul>
      <ExcerptLine
        v-for="part in item.parts"
        :key="part.id"
        :excerpt="part"
        :chosen="chosen.includes(part.id)"
        @choose="choose(part.id, $event)"
      />
    </ul>
    <p v-if="item.parts.length === 0" class="quiet">There are no words in it.</p>
    <p class="small quiet">
      Kinds and sentiments are told by a program and can be wrong; change a kind where it is, and it stays so.
      <template v-if="foreign"> These words are {{ foreign }}, which it understands less well.</template>
    </p>
    <dl v-if="beside.length" class="small quiet">
      <template v-for="[name, text] in beside" :key="name">
        <dt>{{ name }}</dt>
        <dd>{{ text }}</dd>
      </template>
    </dl>
  </article>
</template>

<style scoped>
.item {
  padding: 2px 0 8px;
}
h2 {
  font-family: inherit;
  font-weight: 400;
}
h3 {
  font-size: 15px;
  margin: 16px 0 8px;
}
.points ul {
  gap: 2px;
  margin-bottom: 10px;
}
.point {
  background: none;
  border: 0;
  color: inherit;
  padding: 2px 0;
  text-align: left;
  text-decoration: underline;
  text-decoration-color: var(--rule);
  text-underline-offset: 3px;
}
.kinds {
  flex-wrap: wrap;
  margin-bottom: 8px;
  gap: 0 10px;
}
.kinds [aria-pressed='true'] {
  background: var(--rule);
}
ul {
  display: grid;
  gap: 8px;
  list-style: none;
  margin: 0 0 12px;
  padding: 0;
}
dl {
  display: grid;
  gap: 2px 10px;
  grid-template-columns: auto 1fr;
}
dd {
  margin: 0;
}
</style>
