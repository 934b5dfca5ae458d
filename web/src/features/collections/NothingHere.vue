<script setup lang="ts">
import { computed } from 'vue'
import { useRows, type Collection } from '@/api/collections'
import EmptyPlace from '@/shared/EmptyPlace.vue'
import type { RouteLocationRaw } from 'vue-router'
import { useSelection } from '@/shared/selection'
import { listOf } from '@/shared/tabs'
import { useCollection } from './context'

/** Where no row is: either nothing fits, or nothing is there yet, with what belongs there and the first step. */
const { collection, definition, state } = useCollection()
const { product } = useSelection()
/** Whether there is anything without the conditions. */
const { data: any } = useRows(() => ({
  product: product.value,
  collection: collection.value,
  query: { fields: [], order: [] },
  skip: 0,
  limit: 1,
}))
const filtered = computed(() => Boolean(definition.value.filter) && any.value?.count !== 0)

const WORDS: Record<Collection, [string, string]> = {
  feedback_item: ['Nothing has come in yet', 'Feedback is what people gave you: reviews, tickets, notes.'],
  excerpt: [
    'Nothing has come in yet',
    'Excerpts are the parts of feedback that say one thing each. They come with it.',
  ],
  finding: [
    'No finding yet',
    'A finding is what several people say, under one sentence that a person could say aloud. Look at what is suggested from the feedback, or choose excerpts that mean the same and make a finding of them.',
  ],
  person: ['Nobody is known yet', 'People come with the feedback that they gave.'],
  account: [
    'No account yet',
    'Accounts are the organisations that people belong to. They come with feedback, or are added above.',
  ],
  objective: [
    'No objective yet',
    'An objective is a goal with a measure, a start, a target and a date. Ideas say which one they serve. Add one above.',
  ],
  request: [
    'No request here',
    'Requests come by a form that customers and colleagues fill in. Make one under “Request forms”.',
  ],
  competitor_note: [
    'No note yet',
    'A competitor note is a remark with its source about what somebody else offers. Make one in the market view.',
  ],
  request_form: [
    'No form yet',
    'A form asks customers and colleagues what is in their way. Add one above, choose its questions, and give its link away.',
  ],
  increment: [
    'No increment yet',
    'An increment is a step of an idea that is worth delivering or testing by itself. Open an idea to split it.',
  ],
  idea: ['No idea yet', 'An idea is a guess at how to reach an objective. Make one from a finding, or add one above.'],
  work_item: [
    'Nothing written yet',
    'Initiatives, epics, features, stories and tasks. Choose a level above and add the first.',
  ],
  release: ['No release yet', 'A release is what goes out together. Add one above, then give it its days.'],
  study: ['No study yet', 'A study is a planned piece of research: a question, a method, and when. Add one above.'],
  document: ['No document yet', 'A requirements document says what is to be built and why. Add one above.'],
  sprint: ['No sprint yet', 'A sprint is a stretch of days with a capacity. Add one above.'],
  term: [
    'No term yet',
    'A term is a word of the product, with what else people call it. Add one above; what is called by any of its names is then read as the same.',
  ],
  page: ['No page yet', 'Pages hold what the team wants to remember; a page can stand below another. Add one above.'],
}
const FILE = { label: 'Bring in a file', to: { name: 'bring-in' } }
const STEPS: Partial<Record<Collection, { label: string; to: RouteLocationRaw }>> = {
  feedback_item: FILE,
  excerpt: FILE,
  person: FILE,
  account: FILE,
  finding: { label: 'Look at the suggestions', to: { name: 'grouping' } },
  idea: { label: 'Look at the findings', to: listOf('finding') },
  work_item: { label: 'Look at the ideas', to: listOf('idea') },
}
const step = computed(() => STEPS[collection.value])
</script>

<template>
  <EmptyPlace v-if="filtered" title="Nothing fits">
    No thing fulfils the conditions of this view.
    <template #steps
      ><button type="button" class="btn btn-outline" @click="state.change({ filter: undefined })">
        Take the conditions away
      </button></template
    >
  </EmptyPlace>
  <EmptyPlace v-else :title="WORDS[collection][0]">
    {{ WORDS[collection][1] }}
    <template #steps
      ><RouterLink v-if="step" class="btn btn-outline" :to="step.to">{{ step.label }}</RouterLink></template
    >
  </EmptyPlace>
</template>
