<script setup lang="ts">
import { api, value, type Schemas } from '@/api/client'
import { useSave } from '@/api/save'
import EditField from '@/shared/EditField.vue'
import NewTitle from './NewTitle.vue'

/** The backbone: activities, and below each its steps. */
defineProps<{ activities: readonly Schemas['ActivityView'][] }>()
const { save, edit } = useSave()
const span = (activity: Schemas['ActivityView']) => Math.max(1, activity.steps.length)
const remove = (kind: 'activity' | 'step', thing: { id: number; rev: number }) =>
  save(
    value(
      api.DELETE('/api/v1/things/{kind}/{id}', { params: { path: { kind, id: thing.id }, query: { rev: thing.rev } } }),
    ),
  )
</script>

<template>
  <div class="backbone">
    <div
      v-for="activity in activities"
      :key="activity.id"
      class="activity"
      :style="{ width: `calc(${span(activity)} * var(--cell) + ${(span(activity) - 1) * 8}px)` }"
    >
      <div class="title">
        <EditField
          :value="activity.title"
          :label="`Activity ${activity.title}`"
          @save="edit({ kind: 'activity', id: activity.id }, activity, { title: $event })"
        />
      </div>
      <div class="steps">
        <div v-for="step in activity.steps" :key="step.id" class="step">
          <EditField
            :value="step.title"
            :label="`Step ${step.title}`"
            wrap
            @save="edit({ kind: 'step', id: step.id }, step, { title: $event })"
          />
          <button
            type="button"
            class="btn btn-plain away"
            :aria-label="`Remove the step ${step.title}`"
            @click="remove('step', step)"
          >
            remove
          </button>
        </div>
        <button
          v-if="activity.steps.length === 0"
          type="button"
          class="btn btn-plain"
          @click="remove('activity', activity)"
        >
          remove
        </button>
      </div>
      <NewTitle kind="step" :activity="activity.id" />
    </div>
  </div>
</template>

<style scoped>
.backbone {
  display: flex;
  gap: 8px;
  margin-left: calc(var(--head) + 8px);
}
.title {
  border-bottom: 2px solid var(--ink);
  font:
    600 15px 'Bricolage Grotesque Variable',
    sans-serif;
  padding: 4px 2px;
}
.steps {
  display: flex;
  gap: 8px;
  margin-top: 6px;
}
.step {
  border-bottom: 1px solid var(--rule);
  font-size: 14px;
  font-weight: 600;
  padding: 2px 2px 4px;
  position: relative;
  width: var(--cell);
}
.away {
  background: var(--ground);
  bottom: 2px;
  font-weight: 400;
  min-height: 24px;
  opacity: 0;
  padding: 0 4px;
  pointer-events: none;
  position: absolute;
  right: 0;
}
.step:hover .away,
.away:focus {
  opacity: 1;
  pointer-events: auto;
}
</style>
