import { showProblem } from '@/api/save'
import { router } from '@/router'

const TRIED = 'parts-tried'

/**
 * A part of the page did not come: the connection was lost, or a newer version has other parts. Where nothing is shown yet
 * the page is loaded anew, once in a while; elsewhere somebody may be writing, and decides.
 */
window.addEventListener('vite:preloadError', () => {
  const before = Number(sessionStorage.getItem(TRIED))
  if (router.currentRoute.value.matched.length === 0 && Date.now() - before > 10_000) {
    sessionStorage.setItem(TRIED, String(Date.now()))
    location.reload()
    return
  }
  showProblem({
    type: 'urn:iron-kite:problem:no-connection',
    code: 'no-connection',
    title: 'A part of the page did not come',
    detail: 'The connection was lost, or there is a newer version. Load the page anew once nothing is half written.',
    status: 0,
    faults: [],
    present: null,
  })
})
