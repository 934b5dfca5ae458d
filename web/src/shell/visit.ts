import { onScopeDispose, watch } from 'vue'
import { useRoute, type RouteLocationNormalizedLoaded } from 'vue-router'
import { api } from '@/api/client'
import { useSelection } from '@/shared/selection'
import { KINDS } from '@/api/kinds.gen'
import { LISTEN, DECIDE, PLAN, SPECIFY } from '@/shared/tabs'
import type { Collection } from '@/api/collections'
import { STAGES } from './stages'

/** So long somebody stays somewhere before it is a place to come back to. */
const STAYED = 2_500
/** So often it is said that somebody is still there. */
const OFTEN = 10 * 60_000

/** What a place is called. */
function titleOf(route: RouteLocationNormalizedLoaded): string {
  const stage = STAGES.find((one) => route.path.split('/')[3] === one.path)?.label ?? ''
  const tab = [...LISTEN, ...DECIDE, ...SPECIFY, ...PLAN].find((one) => one.name === route.name && !one.params)
  const name = route.name === 'collection' ? KINDS[route.params.collection as Collection].heading : (tab?.label ?? '')
  const open = document.querySelector('[data-thing] h2, [data-work] h1')?.textContent?.trim()
  return [stage, name, open].filter(Boolean).join(' · ')
}

/** Notes where somebody is, so that the opening page can tell what came since and where to go on. */
export function useVisit() {
  const route = useRoute()
  const { product } = useSelection()
  let wait: ReturnType<typeof setTimeout> | undefined

  // Whoever cannot be heard just now is heard the next time.
  const note = (place?: { path: string; title: string }) =>
    void api.PUT('/api/v1/visit', { body: { product: product.value, place } }).catch(() => undefined)

  watch(
    () => route.fullPath,
    (path) => {
      clearTimeout(wait)
      // The opening page is where somebody comes back from.
      if (route.name === 'opening') return
      wait = setTimeout(() => {
        const title = titleOf(route)
        if (title) note({ path, title })
      }, STAYED)
    },
    { immediate: true },
  )
  note()
  const again = setInterval(() => document.visibilityState === 'visible' && note(), OFTEN)
  onScopeDispose(() => {
    clearTimeout(wait)
    clearInterval(again)
  })
}
