<script setup lang="ts">
import { computed } from 'vue'
import type { RowView } from '@/api/collections'
import { useObjective } from '@/api/queries'
import { percent } from '@/shared/words'
import MeasureForm from './MeasureForm.vue'
import MeasuredList from './MeasuredList.vue'
import ObjectivePicture from './ObjectivePicture.vue'
import { told } from './objectives'
import ServingList from './ServingList.vue'

/** How an objective comes along, what was measured, and what serves it. */
const props = defineProps<{ row: RowView }>()
const { data: sheet } = useObjective(() => props.row.id)
const said = computed(() => (sheet.value ? told(sheet.value) : []))
const parts = computed(() => (sheet.value && sheet.value.rolled.leaves > 1 ? sheet.value.rolled : undefined))
</script>

<template>
  <div v-if="sheet" data-objective>
    <ul class="told">
      <li v-for="one in said" :key="one.text">
        <span :class="{ hatch: one.trouble }">{{ one.text }}</span>
      </li>
      <li v-if="parts">
        By its parts {{ percent(parts.share) }} of the way<template v-if="parts.measured < 0.995">
          ({{ percent(parts.measured) }} of their weight is measured)</template
        >
      </li>
      <li v-if="sheet.delivered.stories">
        {{ sheet.delivered.stories_done }} of {{ sheet.delivered.stories }} stories that serve it are done
      </li>
    </ul>
    <ObjectivePicture :sheet="sheet" />
    <MeasureForm :id="row.id" :unit="sheet.unit ?? undefined" />
    <MeasuredList :values="sheet.values" />
    <ServingList :id="row.id" :serving="sheet.serving" :open="sheet.served.open" />
  </div>
</template>

<style scoped>
.told {
  list-style: none;
  margin: 0 0 10px;
  padding: 0;
}
.hatch {
  border: 1px solid var(--ink);
  padding: 0 6px;
}
</style>
