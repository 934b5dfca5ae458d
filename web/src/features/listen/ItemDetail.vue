<script setup lang="ts">
import { computed, onUnmounted, ref, watch } from 'vue'
import { api } from '@/api/client'
import type { RowView } from '@/api/collections'
import { useRefresh } from '@/api/queries'
import { links } from '../collections/text'
import ChosenBar from './ChosenBar.vue'
import ItemReader from './ItemReader.vue'

/**
 * A feedback item to be read, or the one that an excerpt is part of, and what to do with chosen excerpts. They may
 * come from several items. An item counts as read when somebody goes on from it, so that the list of what is unread
 * holds still under the reader.
 */
const props = defineProps<{ row: RowView }>()
const refresh = useRefresh()
const chosen = ref<number[]>([])
const item = computed(() => links(props.row.values.item)[0]?.id ?? props.row.id)
const unread = computed(() => (props.row.values.read === false ? item.value : undefined))

async function markRead(id: number) {
  await api.POST('/api/v1/listen/items/{id}/reading', { params: { path: { id } } })
  await refresh([])
}
watch(unread, (_, before) => before !== undefined && void markRead(before))
onUnmounted(() => unread.value !== undefined && void markRead(unread.value))
</script>

<template>
  <div>
    <ItemReader :id="item" v-model="chosen" :at="row.values.item ? row.id : undefined" />
    <ChosenBar v-if="chosen.length" v-model="chosen" />
  </div>
</template>
