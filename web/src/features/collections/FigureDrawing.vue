<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import LoadBar from '@/shared/LoadBar.vue'
import ObjectivePath from '@/shared/ObjectivePath.vue'
import SpreadBar from '@/shared/SpreadBar.vue'
import WeekBars from '@/shared/WeekBars.vue'
import { loadOf, pathOf, spreadOf, weeksOf } from './text'

/** The small picture of a drawn field. */
const props = defineProps<{ drawing: Schemas['Drawing']; value: unknown }>()
const weeks = computed(() => (props.drawing === 'weeks' ? weeksOf(props.value) : undefined))
const spread = computed(() => (props.drawing === 'spread' ? spreadOf(props.value) : undefined))
const path = computed(() => (props.drawing === 'path' ? pathOf(props.value) : undefined))
const load = computed(() => (props.drawing === 'load' ? loadOf(props.value) : undefined))
</script>

<template>
  <WeekBars v-if="weeks" :weeks="weeks" />
  <SpreadBar v-else-if="spread" :against="spread.against" :neutral="spread.neutral" :for-it="spread.for_it" />
  <ObjectivePath v-else-if="path" :start="path.start" :present="path.present" :target="path.target" />
  <LoadBar v-else-if="load" :points="load.points" :done="load.done" :capacity="load.capacity" :width="166" />
</template>
