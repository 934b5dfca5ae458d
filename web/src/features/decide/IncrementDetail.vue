<script setup lang="ts">
import { computed } from 'vue'
import type { RowView } from '@/api/collections'
import { useIdea } from '@/api/queries'
import { thingIn } from '@/shared/tabs'
import { links } from '../collections/text'
import IncrementCard from './IncrementCard.vue'

/** An increment with its stories and results, and the idea that it is a step of. */
const props = defineProps<{ row: RowView }>()
const idea = computed(() => links(props.row.values.idea_id)[0])
const { data: sheet } = useIdea(() => idea.value?.id ?? 0)
const increment = computed(() => sheet.value?.increments.find((one) => one.id === props.row.id))
</script>

<template>
  <div>
    <p v-if="idea">
      A step of <RouterLink class="thing" :to="thingIn('idea', idea.id)">{{ idea.label }}</RouterLink>
    </p>
    <IncrementCard v-if="increment" :increment="increment" alone />
  </div>
</template>
