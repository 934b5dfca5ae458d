import { computed, ref, watch } from 'vue'
import { useRows, type Ask } from '@/api/collections'

/** Rows from the first on, more of them when somebody has come near the end. */
export function useGrowing(ask: () => Ask, step: number) {
  const limit = ref(step)
  const { data, isPending } = useRows(() => ({ ...ask(), skip: 0, limit: limit.value }))
  watch(
    () => JSON.stringify(ask()),
    () => (limit.value = step),
  )
  const rows = computed(() => data.value?.rows ?? [])
  const count = computed(() => data.value?.count ?? 0)
  /** The server gives 500 rows at once and no more. */
  const more = () => {
    if (rows.value.length < count.value && rows.value.length >= limit.value)
      limit.value = Math.min(500, limit.value + step)
  }
  const onScroll = (event: Event) => {
    const place = event.target as HTMLElement
    if (place.scrollTop + place.clientHeight > place.scrollHeight - 400) more()
  }
  const cut = computed(() => rows.value.length >= 500 && count.value > rows.value.length)
  return { rows, count, isPending, onScroll, more, cut }
}
