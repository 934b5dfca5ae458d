<script setup lang="ts">
import { computed } from 'vue'
import { useItem } from '@/api/queries'
import { day, figure } from '@/shared/words'
import ExcerptLine from './ExcerptLine.vue'

/** One item: all its words with the excerpts marked, and the excerpts to choose from. */
const props = defineProps<{ id: number; at?: number }>()
const chosen = defineModel<number[]>({ required: true })
const { data: item } = useItem(() => props.id)

/** A part of a conversation, as the item keeps it. */
interface Turn {
  from: number
  speaker: string | null
  from_ms: number | null
}

/** Who speaks where the words themselves do not say so, by the place where they begin: captions of a recording. */
const speakers = computed(() => {
  const turns = JSON.parse(item.value?.turns ?? '[]') as Turn[]
  const letters = Array.from(item.value?.text ?? '')
  const named = turns.filter((turn) => turn.speaker && (turn.from === 0 || letters[turn.from - 1] === '\n'))
  return new Map(named.map((turn) => [turn.from, [turn.speaker, clock(turn.from_ms)].filter(Boolean).join(' · ')]))
})

/** A time of a recording: 1:02:03. */
function clock(ms: number | null | undefined): string {
  if (ms == null) return ''
  const two = (number: number) => String(number).padStart(2, '0')
  const [hours, minutes, seconds] = [Math.floor(ms / 3.6e6), Math.floor(ms / 6e4) % 60, Math.floor(ms / 1000) % 60]
  return hours ? `${hours}:${two(minutes)}:${two(seconds)}` : `${minutes}:${two(seconds)}`
}

/** The text cut where excerpts begin and end, and where somebody else begins to speak. Positions count characters as the server does, not UTF-16 units. */
const pieces = computed(() => {
  if (!item.value) return []
  const letters = Array.from(item.value.text)
  const cut = (from: number, to: number) => letters.slice(from, to).join('')
  const found: { text: string; excerpt?: number; speaker?: string }[] = []
  const plain = (from: number, to: number) => {
    const starts = [...speakers.value.keys()].filter((start) => start > from && start < to)
    const ends = [...starts, to]
    let begin = from
    for (const end of ends) {
      found.push({ text: cut(begin, end), speaker: speakers.value.get(begin) })
      begin = end
    }
  }
  let at = 0
  for (const part of item.value.parts) {
    if (part.from_char > at) plain(at, part.from_char)
    const speaker = speakers.value.get(part.from_char)
    found.push({ text: cut(part.from_char, part.to_char), excerpt: part.id, speaker })
    at = part.to_char
  }
  if (at < letters.length) plain(at, letters.length)
  return found
})

const beside = computed(() => Object.entries(JSON.parse(item.value?.extra ?? '{}') as Record<string, string>))
const said = computed(() => {
  const it = item.value
  if (!it) return ''
  const rating = it.rating == null ? undefined : `rated ${figure(it.rating)}`
  return [it.person ?? 'nameless', it.account, day(it.said_on) || 'no day', it.source, rating]
    .filter(Boolean)
    .join(' · ')
})

function choose(id: number, on: boolean) {
  chosen.value = on ? [...chosen.value, id] : chosen.value.filter((one) => one !== id)
}
</script>

<template>
  <article v-if="item" class="item">
    <h2 class="small quiet">F{{ item.id }} · {{ said }}</h2>
    <p class="text" dir="auto">
      <template v-for="(piece, n) in pieces" :key="n"
        ><span v-if="piece.speaker" class="small quiet speaker">{{ piece.speaker }}</span
        ><mark v-if="piece.excerpt" :class="{ chosen: chosen.includes(piece.excerpt) || piece.excerpt === at }">{{
          piece.text
        }}</mark
        ><template v-else>{{ piece.text }}</template></template
      >
    </p>
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
    <p class="small quiet">Kinds and sentiments are read by rules and can be wrong; change a kind where it is.</p>
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
.text {
  font-size: 17px;
  max-width: 65ch;
  overflow-wrap: anywhere;
  white-space: pre-wrap;
}
.speaker {
  display: block;
  margin-top: 6px;
}
mark {
  background: transparent;
  border-bottom: 2px solid var(--rule);
  color: inherit;
  padding: 0;
}
mark.chosen {
  border-color: var(--ink);
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
