<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { useSave } from '@/api/save'
import EditField from '@/shared/EditField.vue'
import KiteMark from '@/shared/KiteMark.vue'
import { useSelection } from '@/shared/selection'
import StoryDetail from './StoryDetail.vue'

/** One story of the list; the selected one opens below. */
const props = defineProps<{ story: Schemas['StoryView']; all: readonly Schemas['StoryView'][] }>()
const { select, isSelected } = useSelection()
const { edit } = useSave()
const open = computed(() => isSelected('work_item', props.story.id))
const missing = computed(() => props.story.check.checks.filter((check) => !check.holds).map((check) => check.what))
const set = (values: Record<string, unknown>) => edit({ kind: 'work_item', id: props.story.id }, props.story, values)
</script>

<template>
  <tbody :data-story="story.reference" @focusin="select('work_item', story.id)" @click="select('work_item', story.id)">
    <tr :class="{ selected: open }">
      <td class="ref">
        <button type="button" class="btn btn-plain" :aria-expanded="open" @click="select('work_item', story.id)">
          {{ story.reference }}
        </button>
      </td>
      <td>
        <EditField :value="story.title" :label="`Title of ${story.reference}`" @save="set({ title: $event })" />
        <div v-if="story.state === 'draft' && missing.length" class="small quiet">
          no {{ missing.join(', no ').replace('no nothing to wait for', 'waits for another') }}
        </div>
        <div v-for="flag in story.needs_first" :key="flag.needed_id" class="hatch small flag">
          <b>{{ flag.words }}</b>
        </div>
      </td>
      <td class="points">
        <EditField
          :value="story.points"
          type="number"
          :label="`Points of ${story.reference}`"
          right
          placeholder="points"
          @save="set({ points: $event })"
        />
      </td>
      <td class="moscow">
        <select
          class="form-select"
          :aria-label="`How much ${story.reference} matters`"
          :value="story.moscow ?? ''"
          @change="set({ moscow: ($event.target as HTMLSelectElement).value })"
        >
          <option value="">–</option>
          <option value="must">must</option>
          <option value="should">should</option>
          <option value="could">could</option>
          <option value="wont">won’t</option>
        </select>
      </td>
      <td class="state"><KiteMark :state="story.shown_state" /></td>
    </tr>
    <tr v-if="open">
      <td></td>
      <td colspan="4" class="detail"><StoryDetail :story="story" :all="all" /></td>
    </tr>
  </tbody>
</template>

<style scoped>
.ref {
  width: 58px;
}
.ref .btn {
  text-decoration: none;
}
.points {
  width: 78px;
}
.moscow {
  width: 104px;
}
.state {
  width: 112px;
}
.flag {
  border: 1px solid var(--ink);
  display: inline-block;
  padding: 1px 8px;
}
.detail {
  background: var(--panel);
}
</style>
