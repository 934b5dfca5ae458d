<script setup lang="ts">
import { listOf } from '@/shared/tabs'
import { useRoadmap } from '@/api/queries'
import EmptyPlace from '@/shared/EmptyPlace.vue'
import { useSelection } from '@/shared/selection'
import StageFrame from '@/shared/StageFrame.vue'
import RoadmapChart from './RoadmapChart.vue'
import { useHandoverTabs } from './tabs'

const { product } = useSelection()
const { tabs } = useHandoverTabs()
const { data: roadmap, error, isPending } = useRoadmap(product)
</script>

<template>
  <StageFrame :tabs="tabs" :busy="isPending" :problem="error?.message">
    <template #tools><span class="small quiet">progress is rolled up from the stories</span></template>
    <EmptyPlace v-if="roadmap?.bars.length === 0" title="Nothing on the roadmap yet">
      The roadmap shows releases by quarter with what each brings. Give a release its days, and lay stories into it.
      <template #steps
        ><RouterLink class="btn btn-primary" :to="listOf('release')">Plan a release</RouterLink></template
      >
    </EmptyPlace>
    <RoadmapChart v-else-if="roadmap" :roadmap="roadmap" />
  </StageFrame>
</template>
