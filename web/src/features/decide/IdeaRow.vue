<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { useSave } from '@/api/save'
import EditField from '@/shared/EditField.vue'
import KiteMark from '@/shared/KiteMark.vue'
import { useSelection } from '@/shared/selection'
import { money, whole } from '@/shared/words'
import IdeaDetail from './IdeaDetail.vue'

/** An idea in the ranking; the selected one opens below its row. */
const props = defineProps<{
  idea: Schemas['IdeaView']
  most: number
  objectives: readonly Schemas['ObjectiveView'][]
  findings: readonly Schemas['FindingView'][]
}>()
const { select, isSelected } = useSelection()
const { edit } = useSave()
const open = computed(() => isSelected('idea', props.idea.id))
const set = (values: Record<string, unknown>) => edit({ kind: 'idea', id: props.idea.id }, props.idea, values)

const PARTS = [
  ['reach', 'People reached a quarter'],
  ['impact', 'Impact on each, 0 to 10, 1 is something'],
  ['confidence', 'Confidence, 0 to 1'],
  ['effort', 'Effort in person-weeks'],
] as const
</script>

<template>
  <tbody @focusin="select('idea', idea.id)" @click="select('idea', idea.id)">
    <tr :class="{ selected: open }" :data-idea="idea.id">
      <td class="figure">{{ idea.rice.rank ?? '–' }}</td>
      <td class="what">
        <div class="title">
          <button type="button" class="btn btn-plain ref" :aria-expanded="open" @click="select('idea', idea.id)">
            I{{ idea.id }}
          </button>
          <EditField :value="idea.title" :label="`Title of I${idea.id}`" wrap @save="set({ title: $event })" />
        </div>
        <div class="small quiet">
          <KiteMark :state="idea.state" />
          <template v-if="idea.findings.length"> · on {{ idea.findings.map((id) => `N${id}`).join(', ') }}</template>
          <template v-else> · a hunch: no finding behind it</template>
          <template v-if="idea.rice.missing.length"> · no {{ idea.rice.missing.join(', ') }} yet</template>
        </div>
        <svg v-if="idea.rice.score" class="bar" width="100%" height="5" aria-hidden="true">
          <rect :width="`${(idea.rice.score / most) * 100}%`" height="5" fill="var(--quiet)" />
        </svg>
      </td>
      <td v-for="[name, label] in PARTS" :key="name" class="number part">
        <EditField
          :value="idea[name]"
          type="number"
          :label="`${label}, I${idea.id}`"
          right
          placeholder="?"
          @save="set({ [name]: $event })"
        />
      </td>
      <td class="figure" data-score>{{ idea.rice.score == null ? '–' : whole(idea.rice.score) }}</td>
      <td class="number">{{ idea.voices.people || '–' }}</td>
      <td class="number">{{ idea.voices.accounts || '–' }}</td>
      <td class="number">{{ idea.voices.revenue ? money(idea.voices.revenue) : '–' }}</td>
    </tr>
    <tr v-if="open" class="detail">
      <td></td>
      <td colspan="9"><IdeaDetail :idea="idea" :objectives="objectives" :findings="findings" /></td>
    </tr>
  </tbody>
</template>

<style scoped>
.what {
  min-width: 220px;
}
.title {
  align-items: start;
  display: grid;
  font-weight: 550;
  gap: 4px;
  grid-template-columns: auto 1fr;
}
.ref {
  font-size: inherit;
  min-height: 26px;
  padding: 0 4px 0 0;
  text-decoration: none;
}
.part {
  width: 72px;
}
.bar {
  display: block;
  margin-top: 5px;
}
.detail td {
  background: var(--panel);
}
</style>
