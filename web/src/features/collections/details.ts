import { defineAsyncComponent, type Component } from 'vue'
import type { Collection } from '@/api/collections'

/** What a stage shows of one thing beside its fields, and the values that it needs for that. */
interface Detail {
  component: Component
  fields: readonly string[]
  /** Fields that it edits itself, so that they do not stand beside it once more. */
  edits?: readonly string[]
}

/** The parts that stages add to an open thing. Each gets its row. */
export const DETAILS: Partial<Record<Collection, Detail>> = {
  feedback_item: {
    component: defineAsyncComponent(() => import('../listen/ItemDetail.vue')),
    fields: ['read'],
  },
  excerpt: {
    component: defineAsyncComponent(() => import('../listen/ItemDetail.vue')),
    fields: ['item'],
  },
  finding: {
    component: defineAsyncComponent(() => import('../listen/FindingDetail.vue')),
    fields: ['state'],
  },
  objective: {
    component: defineAsyncComponent(() => import('../decide/ObjectiveDetail.vue')),
    fields: ['state'],
  },
  request: {
    component: defineAsyncComponent(() => import('../decide/RequestDetail.vue')),
    fields: ['item_id', 'ideas', 'became', 'reply', 'sender', 'proof'],
    edits: ['reply'],
  },
  request_form: {
    component: defineAsyncComponent(() => import('../decide/FormDetail.vue')),
    fields: ['open'],
  },
  increment: {
    component: defineAsyncComponent(() => import('../decide/IncrementDetail.vue')),
    fields: ['idea_id', 'state'],
  },
  idea: {
    component: defineAsyncComponent(() => import('../decide/IdeaDetail.vue')),
    fields: ['state', 'epics', 'quotes', 'outcome', 'reason', 'decided_on', 'score_then'],
  },
  document: {
    component: defineAsyncComponent(() => import('../talk/TextDetail.vue')),
    fields: ['quotes', 'body'],
  },
  page: {
    component: defineAsyncComponent(() => import('../talk/TextDetail.vue')),
    fields: ['quotes', 'body'],
  },
  person: {
    component: defineAsyncComponent(() => import('../listen/WhoDetail.vue')),
    fields: ['items'],
  },
  account: {
    component: defineAsyncComponent(() => import('../listen/WhoDetail.vue')),
    fields: ['items'],
  },
  study: {
    component: defineAsyncComponent(() => import('../listen/StudyDetail.vue')),
    fields: ['items'],
  },
  work_item: {
    component: defineAsyncComponent(() => import('../specify/WorkDetail.vue')),
    fields: ['level', 'state', 'parent_id', 'children', 'ideas'],
  },
  release: {
    component: defineAsyncComponent(() => import('../plan/ReleaseDetail.vue')),
    fields: ['state', 'released_on'],
  },
}
