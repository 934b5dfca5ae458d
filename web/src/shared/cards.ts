import Sortable from 'sortablejs'
import { onMounted, onUnmounted, type Ref } from 'vue'

/**
 * Cards of a list that are dragged by hand, within it or into another list of the same group.
 *
 * Cards are the elements with `data-card`. When one is let go its node goes back to where Vue knows it, and `move`
 * is told the card, the list that it was dropped in, and the card that now follows it: the data moves, and the
 * picture follows the data.
 */
export function useCards(
  list: Ref<HTMLElement | undefined>,
  group: string,
  move: (card: number, to: HTMLElement, before: number | undefined) => void,
) {
  let sortable: Sortable | undefined
  onMounted(() => {
    if (!list.value) return
    sortable = Sortable.create(list.value, {
      group,
      draggable: '[data-card]',
      forceFallback: true,
      fallbackTolerance: 4,
      animation: 120,
      onEnd({ item, from, to, oldIndex = 0, newIndex = 0 }) {
        if (from === to && oldIndex === newIndex) return
        const next = item.nextElementSibling as HTMLElement | null
        from.insertBefore(item, from.querySelectorAll(':scope > [data-card]')[oldIndex] ?? null)
        move(Number(item.dataset.card), to, Number(next?.dataset.card) || undefined)
      },
    })
  })
  onUnmounted(() => sortable?.destroy())
}
