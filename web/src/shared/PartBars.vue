<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import FigureFrame from './FigureFrame.vue'
import { partsOf, SIDES } from './sides'
import { words } from './words'

/** How much was said by each source, segment or kind, and with which colour; one can be picked. */
type Part = Schemas['Part']
const props = defineProps<{
  title: string
  parts: readonly Part[]
  /** What stands for those that belong to none. */
  none?: string
  /** The key of the one that is picked; empty for those that belong to none. */
  picked?: string
  still?: boolean
}>()
const emit = defineEmits<{ pick: [key: string | undefined] }>()
const MOST = 7
const LABEL = 112
const BAR = 124
const ROW = 24
const shown = computed(() => props.parts.slice(0, MOST))
const most = computed(() => Math.max(1, ...shown.value.map((part) => part.excerpts)))
const label = (part: Part) => words(part.label ?? props.none ?? 'not known')
const short = (text: string) => (text.length > 15 ? `${text.slice(0, 14)}…` : text)
const key = (part: Part) => part.key ?? ''
const lines = computed(() =>
  props.parts.map((part) => [
    label(part),
    part.excerpts,
    part.spread.against,
    part.spread.neutral,
    part.spread.for_it,
    Number(part.mean.toFixed(2)),
  ]),
)
const says = (part: Part) =>
  `${label(part)}: ${part.excerpts}, ${part.spread.against} against, ${part.spread.neutral} neutral, ${part.spread.for_it} for`
const pick = (part: Part) => props.still || emit('pick', props.picked === key(part) ? undefined : key(part))
</script>

<template>
  <FigureFrame
    :title="title"
    :heads="['', 'Excerpts', ...SIDES.map(([, name]) => name), 'Mean sentiment']"
    :lines="lines"
  >
    <svg
      data-figure
      :width="LABEL + BAR + 40"
      :height="shown.length * ROW + 2"
      :role="still ? 'img' : 'group'"
      :aria-label="still ? `${title}. ${shown.map(says).join('; ')}` : title"
    >
      <g
        v-for="(part, n) in shown"
        :key="key(part)"
        :class="{ pick: !still, off: picked !== undefined && picked !== key(part) }"
        :role="still ? undefined : 'button'"
        :tabindex="still ? undefined : 0"
        :aria-pressed="still ? undefined : picked === key(part)"
        :data-part="key(part)"
        :transform="`translate(0, ${n * ROW})`"
        @click="pick(part)"
        @keydown.enter.prevent="pick(part)"
        @keydown.space.prevent="pick(part)"
      >
        <title>{{ says(part) }}</title>
        <rect class="ground" :width="LABEL + BAR + 40" :height="ROW" />
        <text :x="LABEL - 8" y="16" text-anchor="end">{{ short(label(part)) }}</text>
        <rect
          v-for="piece in partsOf(part.spread, (part.excerpts / most) * BAR)"
          :key="piece.side"
          :class="piece.side"
          :x="LABEL + piece.from"
          y="5"
          :width="piece.length"
          height="14"
        />
        <text :x="LABEL + (part.excerpts / most) * BAR + 6" y="16" class="count">
          {{ part.excerpts }}
        </text>
      </g>
    </svg>
    <p v-if="parts.length > MOST" class="small quiet">and {{ parts.length - MOST }} more, in the numbers</p>
  </FigureFrame>
</template>

<style scoped>
svg {
  display: block;
  max-width: 100%;
}
text {
  fill: var(--ink);
  font-size: 13px;
}
.count {
  fill: var(--quiet);
}
p {
  margin: 0;
}
</style>
