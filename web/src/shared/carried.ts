import { useEventListener } from '@vueuse/core'
import { ref, watch, type WatchSource } from 'vue'

/**
 * Keeps the keyboard with a thing that was just moved. Moving draws it anew somewhere else, at once or when fresh
 * data come, and a node that is drawn anew has lost the focus. `carry` names the node; it is focused now and after
 * each redrawing of `drawn`, until somebody goes to something else.
 */
export function useCarried(drawn: WatchSource<unknown>[]) {
  const carried = ref<string>()
  const follow = () => {
    const node = carried.value === undefined ? null : document.getElementById(carried.value)
    if (node && node !== document.activeElement) node.focus()
  }
  watch([carried, ...drawn], follow, { flush: 'post' })
  useEventListener(document, 'focusin', ({ target }) => {
    if (target instanceof Element && target.id !== carried.value) carried.value = undefined
  })
  return { carry: (id: string) => (carried.value = id) }
}
