<script setup lang="ts">
import PickThing from '@/shared/PickThing.vue'

/** A word that opens a search for a finding. */
defineProps<{ label: string; without?: readonly number[]; shortcut?: string }>()
const emit = defineEmits<{ pick: [id: number, title: string] }>()
const PLACES = [{ kind: 'finding', name: 'Findings' }] as const
</script>

<template>
  <PickThing
    :label="label"
    search="what people say"
    :places="PLACES"
    :without="without"
    :shortcut="shortcut"
    @pick="(_, id, title) => emit('pick', id, title)"
  />
</template>
