<script setup lang="ts">
import { api, value } from '@/api/client'
import type { Collection } from '@/api/collections'
import { useSave } from '@/api/save'
import PickThing from '@/shared/PickThing.vue'

/** Sends chosen excerpts on: behind an idea, into a document, onto a page. */
const props = defineProps<{ excerpts: readonly number[] }>()
const emit = defineEmits<{ done: [] }>()
const { save } = useSave()
const PLACES = [
  { kind: 'idea', name: 'Ideas' },
  { kind: 'document', name: 'Documents' },
  { kind: 'page', name: 'Pages' },
] as const

async function quote(kind: Collection, id: number) {
  const body = { excerpts: [...props.excerpts], to: { kind, id } }
  if (await save(value(api.POST('/api/v1/listen/quotes', { body })))) emit('done')
}
</script>

<template>
  <PickThing
    label="Quote in …"
    search="an idea, a document, a page"
    :places="PLACES"
    shortcut="Alt+Q"
    @pick="(kind, id) => quote(kind, id)"
  />
</template>
