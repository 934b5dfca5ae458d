<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import type { RowView } from '@/api/collections'
import { takeout } from '@/api/files'
import { useBoard, useReleases } from '@/api/queries'
import { KINDS } from '@/api/kinds.gen'
import { useSave } from '@/api/save'
import { useSelection } from '@/shared/selection'
import { day, words } from '@/shared/words'
import ServesObjectives from '../decide/ServesObjectives.vue'
import ReleaseOut from './ReleaseOut.vue'
import ReleaseStories from './ReleaseStories.vue'

/** What goes out with a release, what comes in the wrong order, and the step to its next state. */
const props = defineProps<{ row: RowView }>()
const { product } = useSelection()
const { save } = useSave()
const { data: board } = useBoard(product)
const { data: releases } = useReleases(product)
const stories = computed(() => (board.value?.stories ?? []).filter((story) => story.release_id === props.row.id))
/** Its state, and those that may follow. */
const states = computed(() => {
  const here = String(props.row.values.state) as Schemas['ReleaseState']
  return [here, ...KINDS.release.states[here]]
})
const flags = computed(() => releases.value?.find((one) => one.id === props.row.id)?.out_of_order ?? [])

/** Whether it is asked what of it goes out. */
const going = ref(false)
watch(
  () => props.row.id,
  () => (going.value = false),
)

function step(event: Event) {
  const select = event.target as HTMLSelectElement
  const state = select.value as Schemas['ReleaseState']
  if (state === 'released') {
    // It is not out before it is said what of it is.
    going.value = true
    select.value = String(props.row.values.state)
    return
  }
  going.value = false
  const params = { path: { id: props.row.id } }
  return save(value(api.POST('/api/v1/plan/releases/{id}/state', { params, body: { rev: props.row.rev, state } })))
}
</script>

<template>
  <div>
    <div class="row-flex">
      <label class="state small"
        >It is
        <select class="form-select" :aria-label="`State of ${row.reference}`" :value="row.values.state" @change="step">
          <option v-for="state in states" :key="state" :value="state">{{ words(state) }}</option>
        </select></label
      >
      <span v-if="row.values.released_on" class="small quiet">since {{ day(String(row.values.released_on)) }}</span>
      <a class="btn btn-outline" :href="takeout.release(row.id)">Take out as Markdown</a>
    </div>
    <ReleaseOut
      v-if="going && board && releases"
      :row="row"
      :stories="stories"
      :releases="releases"
      @done="going = false"
    />
    <div v-for="flag in flags" :key="`${flag.story_id} ${flag.needed_id}`" class="hatch small flag">
      <b>S{{ flag.story_id }} {{ flag.words }}</b>
    </div>
    <ServesObjectives :id="row.id" kind="release" />
    <ReleaseStories v-if="board" :stories="stories" />
  </div>
</template>

<style scoped>
.state {
  align-items: center;
  display: flex;
  gap: 8px;
  white-space: nowrap;
}
.flag {
  border: 1px solid var(--ink);
  margin: 6px 0 0;
  padding: 1px 8px;
  width: fit-content;
}
</style>
