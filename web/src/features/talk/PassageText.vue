<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Thing } from '@/api/client'
import { useTalk } from '@/api/talk'
import { useChosenWords } from '@/shared/chosenWords'
import { lookFor, speakOf } from './passage'

/** A text of a thing, with the words that people speak of marked. Words that are chosen in it can be spoken of. */
const props = defineProps<{ thing: Thing; field: string; text: string; rev: number; label: string }>()
const root = ref<HTMLElement>()
const { chosen, clear, onKey } = useChosenWords(root, () => props.text)
watch(() => [props.thing.kind, props.thing.id], clear)
const { data } = useTalk(() => props.thing)
const letters = computed(() => Array.from(props.text))

/** The open comments on words of this text. */
const passages = computed(() =>
  (data.value?.comments ?? []).flatMap((comment) => {
    const { passage } = comment
    const here = passage?.field === props.field && passage.from != null && passage.to != null && !comment.resolved_at
    return here ? [{ id: comment.id, from: Number(passage.from), to: Number(passage.to) }] : []
  }),
)

/** The text cut wherever a passage begins or ends. */
const pieces = computed(() => {
  const cuts = new Set([0, letters.value.length, ...passages.value.flatMap((one) => [one.from, one.to])])
  const places = [...cuts].filter((at) => at <= letters.value.length).sort((a, b) => a - b)
  return places.slice(0, -1).map((from, n) => {
    const to = places[n + 1] ?? from
    const on = passages.value.filter((one) => one.from < to && from < one.to)
    return { from, text: letters.value.slice(from, to).join(''), comment: on.at(-1)?.id }
  })
})

function speak() {
  if (!chosen.value) return
  const { from, to } = chosen.value
  const words = letters.value.slice(from, to).join('')
  speakOf({ on: props.thing, passage: { field: props.field, rev: props.rev, from, to }, words })
  clear()
}

function onTextKey(event: KeyboardEvent) {
  if (event.key === 'Enter' && chosen.value) {
    event.preventDefault()
    speak()
  } else onKey(event)
}
</script>

<template>
  <section class="passages" :data-passages="field">
    <div class="row-flex head">
      <h3>{{ label }}</h3>
      <!-- Pressing the button must not let go of what is chosen. -->
      <button v-if="chosen" type="button" class="btn btn-outline" @pointerdown.prevent @click="speak">
        Speak of these words
      </button>
      <span v-else class="small quiet">Select words to speak of them; with the keyboard, arrows and Shift.</span>
    </div>
    <!-- The words can be chosen with the keyboard, so they can be gone to. -->
    <div
      ref="root"
      class="text"
      dir="auto"
      tabindex="0"
      role="group"
      :aria-label="`${label}. Arrows choose a word, with Shift more, Enter speaks of them`"
      @keydown="onTextKey"
    >
      <template v-for="piece in pieces" :key="piece.from"
        ><mark
          v-if="piece.comment"
          :data-from="piece.from"
          :data-passage="piece.comment"
          @click="lookFor(piece.comment)"
          >{{ piece.text }}</mark
        ><span v-else :data-from="piece.from">{{ piece.text }}</span></template
      >
    </div>
  </section>
</template>

<style scoped>
.head {
  flex-wrap: wrap;
  gap: 4px 12px;
}
h3 {
  font-size: 15px;
  margin: 10px 0 6px;
}
.text {
  background: var(--paper);
  border: 1px solid var(--rule);
  border-radius: 6px;
  line-height: 1.55;
  max-width: 80ch;
  overflow-wrap: anywhere;
  padding: 10px 14px;
  white-space: pre-wrap;
}
mark {
  background: none;
  border-bottom: 2px solid var(--up);
  color: inherit;
  cursor: pointer;
  padding: 0;
}
</style>
