<script setup lang="ts">
import { listOf } from '@/shared/tabs'
import { computed } from 'vue'
import { useBackbone, useBoard, useReleases } from '@/api/queries'
import EmptyPlace from '@/shared/EmptyPlace.vue'
import { useSelection } from '@/shared/selection'
import StageFrame from '@/shared/StageFrame.vue'
import { count } from '@/shared/words'
import MapBackbone from './MapBackbone.vue'
import MapCell from './MapCell.vue'
import NewTitle from './NewTitle.vue'
import SliceHead from './SliceHead.vue'
import StoryNeeds from './StoryNeeds.vue'
import UnplacedStories from './UnplacedStories.vue'
import { inCell, slicesOf } from './grid'
import { provideMoving } from './moving'

const MAP = [{ name: 'map', label: 'Story map' }] as const
const { product } = useSelection()
const { data: board, error, isPending } = useBoard(product)
const { data: backbone } = useBackbone(product)
const { data: releases } = useReleases(product)

const activities = computed(() => backbone.value?.activities ?? [])
const steps = computed(() => activities.value.flatMap((activity) => activity.steps))
const slices = computed(() => slicesOf(releases.value ?? []))
const stories = computed(() => board.value?.stories ?? [])
const unplaced = computed(() => stories.value.filter((story) => story.step_id == null))
const wrong = computed(() => stories.value.filter((story) => story.needs_first.length > 0).length)

const { saying } = provideMoving(stories, steps, slices)
</script>

<template>
  <StageFrame :tabs="MAP" :busy="isPending" :problem="error?.message">
    <template #tools>
      <span class="small quiet"
        >{{ count(slices.length - 1, 'slice') }} · {{ wrong }} out of order · {{ unplaced.length }} unplaced</span
      >
      <RouterLink class="btn btn-outline" :to="listOf('release')">Slices are releases</RouterLink>
      <NewTitle kind="activity" />
    </template>
    <EmptyPlace v-if="backbone && activities.length === 0" title="The map has no backbone yet">
      A story map tells from left to right what people do: activities, and the steps of each. Stories hang below their
      step, and each slice is a release. Add the first activity above.
    </EmptyPlace>
    <template v-else-if="backbone && board && releases">
      <StoryNeeds :stories="stories" />
      <div class="map">
        <MapBackbone :activities="activities" />
        <div v-for="slice in slices" :key="slice.id ?? 'none'" class="slice" :data-slice="slice.title">
          <SliceHead :slice="slice" />
          <template v-for="activity in activities" :key="activity.id">
            <MapCell
              v-for="step in activity.steps"
              :key="step.id"
              :step="step"
              :release="slice.id"
              :stories="inCell(stories, { step: step.id, release: slice.id })"
            />
            <div v-if="activity.steps.length === 0" class="no-step"></div>
          </template>
        </div>
        <UnplacedStories v-if="unplaced.length" :stories="unplaced" :steps="steps" />
      </div>
    </template>
    <div class="visually-hidden" aria-live="assertive">{{ saying }}</div>
  </StageFrame>
</template>

<style scoped>
.map {
  --cell: 144px;
  --head: 110px;
  min-width: max-content;
  padding: 12px 16px 60px;
}
.slice {
  border-bottom: 1.5px solid var(--quiet);
  display: flex;
  gap: 8px;
  min-height: 120px;
  padding: 12px 0 14px;
}
.no-step {
  width: var(--cell);
}
</style>
