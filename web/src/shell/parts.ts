import { LOST } from '@/api/client'
import { showProblem } from '@/api/save'

/** A part of the page did not come. It is not loaded anew by itself: somebody may be writing. */
window.addEventListener('vite:preloadError', () =>
  showProblem({
    ...LOST,
    title: 'A part of the page did not come',
    detail: 'The connection was lost, or there is a newer version. Load the page anew once nothing is half written.',
  }),
)
