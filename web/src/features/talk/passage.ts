import { ref } from 'vue'
import type { Schemas, Thing } from '@/api/client'

/** Words that somebody chose to speak of; the talk about the thing takes them up. */
export interface Chosen {
  on: Thing
  passage: Schemas['ChosenPassage']
  words: string
}

export const speaksOf = ref<Chosen>()

/** Which part of the panel on the right is shown. */
export const panel = ref<'trace' | 'talk' | 'history'>('trace')
/** The comment that somebody came for. */
export const lookedFor = ref<number>()

export function speakOf(chosen: Chosen) {
  speaksOf.value = chosen
  panel.value = 'talk'
}

export function lookFor(comment: number) {
  lookedFor.value = comment
  panel.value = 'talk'
}
