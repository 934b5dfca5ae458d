import { ApiProblem } from './client'
import { showProblem } from './save'

/** Does something that is no change of a thing, such as starting a job; a problem is shown, and nothing comes back. */
export function useAttempt() {
  return async <T>(act: () => Promise<T>): Promise<T | undefined> => {
    try {
      return await act()
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error
      showProblem(error.body)
      return undefined
    }
  }
}
