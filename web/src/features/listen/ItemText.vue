<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useSave } from '@/api/save'
import { useTalk } from '@/api/talk'
import { useSelection } from '@/shared/selection'
import { count, words } from '@/shared/words'
import { useChosenWords } from '@/shared/chosenWords'
import { lookFor, speakOf } from '../talk/passage'
import { clock } from './conversation'

/** All the words of an item with its excerpts marked. Words that are chosen in it become an excerpt, or mend one. */
const props = defineProps<{
  item: Schemas['ItemView']
  stands: (excerpt: number) => boolean
  /** Where its recording stands, in milliseconds. */
  heardAt?: number
}>()
const emit = defineEmits<{ hear: [ms: number] }>()
const { save } = useSave()
const { selected, select } = useSelection()
/** What is said of the item, or of the excerpt of it that is selected. */
const spoken = computed(() => {
  const it = selected.value
  const here =
    (it?.kind === 'feedback_item' && it.id === props.item.id) ||
    (it?.kind === 'excerpt' && props.item.parts.some((part) => part.id === it.id))
  return here ? it : undefined
})
const { data: talk } = useTalk(spoken)
const passages = computed(() =>
  (talk.value?.comments ?? []).flatMap(({ id, passage, resolved_at }) =>
    passage?.from != null && passage.to != null && !resolved_at ? [{ id, from: passage.from, to: passage.to }] : [],
  ),
)

/** A part of a conversation, as the item keeps it. */
interface Turn {
  from: number
  to: number
  speaker: string | null
  from_ms: number | null
  question?: string
  tags?: string[]
}

/** What stands between the words, by its place: who speaks where the words do not say so, the question that is answered, tags. */
interface Mark {
  question?: string
  speaker?: string
  /** When that begins in the recording, in milliseconds. */
  ms?: number
  tags?: string
}

const letters = computed(() => Array.from(props.item.text))
const marks = computed(() => {
  const found = new Map<number, Mark>()
  const add = (at: number, mark: Mark) => found.set(at, { ...found.get(at), ...mark })
  let asked: string | undefined
  for (const turn of JSON.parse(props.item.turns ?? '[]') as Turn[]) {
    // From -1 on, it would be looked for from the end.
    const line = turn.from === 0 ? 0 : letters.value.lastIndexOf('\n', turn.from - 1) + 1
    const ms = turn.from_ms ?? undefined
    if (turn.question && turn.question !== asked) add(line, { question: turn.question })
    asked = turn.question
    const speaker = turn.speaker && turn.from === line ? turn.speaker : undefined
    if (speaker ?? ms != null) add(line, { speaker, ms })
    if (turn.tags?.length) add(turn.to, { tags: turn.tags.map((tag) => `#${tag}`).join(' ') })
  }
  return found
})

/** The text cut where excerpts begin and end, and where something stands between the words. */
const pieces = computed(() => {
  const found: (Mark & { from: number; text: string; excerpt?: number; first?: boolean; comment?: number })[] = []
  const spokenOf = passages.value.flatMap((one) => [one.from, one.to])
  const starts = [...new Set([...marks.value.keys(), ...spokenOf])].sort((a, b) => a - b)
  const put = (from: number, to: number, excerpt?: number) => {
    let begin = from
    for (const end of [...starts.filter((start) => start > from && start < to), to]) {
      const text = letters.value.slice(begin, end).join('')
      const comment = passages.value.filter((one) => one.from < end && begin < one.to).at(-1)?.id
      found.push({ from: begin, text, excerpt, first: begin === from, comment, ...marks.value.get(begin) })
      begin = end
    }
  }
  let at = 0
  for (const part of props.item.parts) {
    if (part.from_char > at) put(at, part.from_char)
    put(part.from_char, part.to_char, part.id)
    at = part.to_char
  }
  if (at < letters.value.length) put(at, letters.value.length)
  else found.push({ from: at, text: '', ...marks.value.get(at) })
  return found
})
const kindOf = computed(() => new Map(props.item.parts.map((part) => [part.id, part.kind])))

/** The turn that is heard now, by where it begins. */
const heard = computed(() => {
  const begun = pieces.value.filter((piece) => piece.ms != null && piece.ms <= (props.heardAt ?? -1))
  return begun.at(-1)?.from
})

const text = ref<HTMLElement>()
const { chosen, clear, onKey } = useChosenWords(text, () => props.item.text)
watch(() => props.item.id, clear)
const touched = computed(() => {
  const here = chosen.value
  return here ? props.item.parts.filter((part) => part.from_char < here.to && here.from < part.to_char) : []
})
const many = computed(() => {
  const here = chosen.value
  if (!here) return 0
  return letters.value.slice(here.from, here.to).join('').split(/\s+/).filter(Boolean).length
})

async function take(becomes?: number) {
  if (!chosen.value) return
  const body = { rev: props.item.rev, ...chosen.value, becomes }
  const path = { id: props.item.id }
  if (await save(value(api.POST('/api/v1/listen/items/{id}/excerpts', { params: { path }, body })))) {
    clear()
    text.value?.focus()
  }
}

/** Speaks of the chosen words: on the excerpt that holds all of them, else on the item. */
function speak() {
  if (!chosen.value) return
  const { from, to } = chosen.value
  const part = props.item.parts.find((one) => one.from_char <= from && to <= one.to_char)
  const on = part ? { kind: 'excerpt' as const, id: part.id } : { kind: 'feedback_item' as const, id: props.item.id }
  const said = letters.value.slice(from, to).join('')
  select(on.kind, on.id)
  speakOf({ on, passage: { field: 'text', rev: props.item.rev, from, to }, words: said })
  clear()
}

async function takeOut(part: Schemas['ExcerptView']) {
  const params = { path: { kind: 'excerpt' as const, id: part.id }, query: { rev: part.rev } }
  if (await save(value(api.DELETE('/api/v1/things/{kind}/{id}', { params })))) clear()
}

function onTextKey(event: KeyboardEvent) {
  // A button within has keys of its own.
  if (event.target !== text.value) return
  if (event.key === 'Enter' && chosen.value) {
    event.preventDefault()
    void take()
  } else onKey(event)
}
</script>

<template>
  <div>
    <!-- The words can be chosen with the keyboard, so they can be gone to. -->
    <div
      ref="text"
      class="text"
      dir="auto"
      tabindex="0"
      role="group"
      aria-label="The words. Arrows choose a word, with Shift more, Enter makes an excerpt of them"
      data-text
      @keydown="onTextKey"
    >
      <template v-for="piece in pieces" :key="piece.from"
        ><span v-if="piece.tags" class="small quiet">&nbsp;{{ piece.tags }}</span
        ><span v-if="piece.question" class="small quiet asked">{{ piece.question }}</span
        ><span
          v-if="piece.speaker || piece.ms != null"
          class="small quiet speaker"
          :class="{ heard: piece.from === heard }"
          >{{ piece.speaker
          }}<template v-if="piece.ms != null"
            >{{ piece.speaker ? ' · ' : ''
            }}<button
              v-if="item.recorded"
              type="button"
              class="hear"
              :aria-label="`Hear it from ${clock(piece.ms)}`"
              @click="emit('hear', piece.ms)"
            >
              {{ clock(piece.ms) }}</button
            ><template v-else>{{ clock(piece.ms) }}</template></template
          ></span
        ><mark
          v-if="piece.excerpt"
          :id="piece.first ? `said-${piece.excerpt}` : undefined"
          :data-from="piece.from"
          :title="words(kindOf.get(piece.excerpt) ?? '')"
          :class="{ chosen: stands(piece.excerpt), spoken: piece.comment }"
          :data-passage="piece.comment"
          @click="piece.comment && lookFor(piece.comment)"
          >{{ piece.text }}</mark
        ><span v-else :data-from="piece.from" :class="{ spoken: piece.comment }" :data-passage="piece.comment">{{
          piece.text
        }}</span></template
      >
    </div>
    <p v-if="!chosen" class="small quiet">
      Select any words to make an excerpt of them, to mend one, or to speak of them; with the keyboard, arrows and
      Shift.
    </p>
    <!-- Pressing a button must not let go of what is chosen. -->
    <div v-if="chosen" class="row-flex small act" role="group" aria-label="With the chosen words" @mousedown.prevent>
      <span aria-live="polite">{{ count(many, 'word') }} chosen</span>
      <button type="button" class="btn btn-primary" @click="take()">Make an excerpt</button>
      <template v-for="part in touched" :key="part.id">
        <button type="button" class="btn btn-outline" @click="take(part.id)">X{{ part.id }} is these words</button>
        <button v-if="touched.length === 1" type="button" class="btn btn-outline" @click="takeOut(part)">
          X{{ part.id }} is no excerpt
        </button>
      </template>
      <button type="button" class="btn btn-outline" @click="speak">Speak of these words</button>
      <button type="button" class="btn btn-plain" @click="clear">Leave it</button>
    </div>
  </div>
</template>

<style scoped>
.text {
  font-size: 17px;
  margin-bottom: 6px;
  max-width: 65ch;
  overflow-wrap: anywhere;
  white-space: pre-wrap;
}
.text ::selection {
  background: var(--ink);
  color: var(--paper);
}
.asked {
  border-top: 1px solid var(--rule);
  display: block;
  margin-top: 10px;
  padding-top: 4px;
}
.speaker {
  display: block;
  margin-top: 6px;
}
.asked,
.speaker {
  user-select: none;
}
.heard {
  color: var(--ink);
  font-weight: 700;
}
.hear {
  background: none;
  border: 0;
  color: inherit;
  padding: 0;
  text-decoration: underline;
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
.spoken {
  border-bottom: 2px solid var(--up);
}
mark.spoken {
  cursor: pointer;
}
.act {
  background: var(--panel);
  border: 1px solid var(--rule);
  border-radius: 6px;
  bottom: 8px;
  flex-wrap: wrap;
  gap: 8px;
  margin-bottom: 12px;
  padding: 6px 10px;
  position: sticky;
  z-index: 2;
}
</style>
