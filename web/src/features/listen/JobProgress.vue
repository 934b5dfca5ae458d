<script setup lang="ts">
import { computed } from 'vue'
import { api, ApiProblem, value, type Schemas } from '@/api/client'
import { showProblem } from '@/api/save'
import { percent, whole } from '@/shared/words'

/** How far a job is, and the way to stop it. */
const props = defineProps<{ job: Pick<Schemas['JobView'], 'id' | 'done' | 'total' | 'state'>; label: string }>()
const emit = defineEmits<{ cancelled: [] }>()
const share = computed(() => props.job.done / props.job.total)

async function cancel() {
  try {
    await value(api.POST('/api/v1/jobs/{id}/cancel', { params: { path: { id: props.job.id } } }))
  } catch (error) {
    if (error instanceof ApiProblem) showProblem(error.body)
  }
  emit('cancelled')
}
</script>

<template>
  <progress :value="job.total ? job.done : undefined" :max="job.total || undefined" :aria-label="label" />
  <span class="small" role="status">
    <template v-if="job.total">{{ whole(job.done) }} of {{ whole(job.total) }} · {{ percent(share) }}</template>
    <template v-else>{{ job.state === 'queued' ? 'waits' : 'runs' }}</template>
  </span>
  <button type="button" class="btn btn-plain" @click="cancel">Cancel</button>
</template>

<style scoped>
progress {
  accent-color: var(--quiet);
  width: 200px;
}
</style>
