<script setup lang="ts">
import { computed } from 'vue'
import LoadBar from '@/shared/LoadBar.vue'
import { useSelection } from '@/shared/selection'
import { day, figure } from '@/shared/words'
import type { Slice } from './grid'

/** A slice's name, its day, and its load against what fits. */
const props = defineProps<{ slice: Slice }>()
const { select } = useSelection()
const release = computed(() => props.slice.release)
const points = computed(() => {
  const it = release.value
  if (!it) return ''
  return it.capacity == null
    ? `${figure(it.progress.points)} points`
    : `${figure(it.progress.points)} of ${figure(it.capacity)} points`
})
</script>

<template>
  <div class="head">
    <template v-if="release">
      <button type="button" class="btn btn-plain title" @click="select('release', release.id)">
        {{ slice.title }}
      </button>
      <div class="small quiet">R{{ release.id }} · {{ points }}</div>
      <LoadBar
        :points="release.progress.points"
        :done="release.progress.points_done"
        :capacity="release.capacity"
        :width="104"
      />
      <div class="small quiet">{{ day(release.ends_on) || 'no day yet' }}</div>
      <b v-if="release.trouble" class="small">{{ release.trouble }}</b>
    </template>
    <div v-else class="none">{{ slice.title }}</div>
  </div>
</template>

<style scoped>
.head {
  flex: none;
  width: var(--head);
}
.title {
  font:
    600 15px 'Bricolage Grotesque Variable',
    sans-serif;
  padding: 0;
  text-align: left;
  text-decoration: none;
}
.none {
  color: var(--quiet);
}
</style>
