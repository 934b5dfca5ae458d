<script setup lang="ts">
import { computed } from 'vue'
import type { RowView } from '@/api/collections'
import { useCollection } from '../collections/context'
import QuoteList from '../listen/QuoteList.vue'
import PassageText from './PassageText.vue'

/** A document or a page: its text, of whose words people can speak, and what it quotes. */
const props = defineProps<{ row: RowView }>()
const { thing } = useCollection()
const text = computed(() => (typeof props.row.values.body === 'string' ? props.row.values.body : ''))
</script>

<template>
  <div>
    <PassageText v-if="text" :thing="thing(row.id)" field="body" :text="text" :rev="row.rev" label="Text" />
    <QuoteList :row="row" />
  </div>
</template>
