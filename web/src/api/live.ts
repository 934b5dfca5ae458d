import { onScopeDispose, ref } from 'vue'
import { TOLD, useRefresh } from './queries'
import { own } from './save'

/** Whether changes of others arrive by themselves just now. */
export const live = ref(false)

/**
 * Follows the changes of everybody and asks again for what they touch.
 *
 * Only while the page can be seen: browsers allow few connections to one server, and a forgotten tab must not
 * use one up. When the page comes back it asks for everything again, as after a lost connection.
 */
export function useLive() {
  const refresh = useRefresh()
  let events: EventSource | undefined
  let before = false

  // Long work changes things many times a second; it is asked again at once, and then so often at most.
  const OFTEN = 500
  const heard = new Set<string>()
  let waits = false
  function askAgain() {
    const kinds = [...heard]
    heard.clear()
    waits = kinds.length > 0
    if (!waits) return
    void refresh(kinds)
    setTimeout(askAgain, OFTEN)
  }

  function follow() {
    if (events || document.visibilityState === 'hidden') return
    events = new EventSource('/api/v1/events')
    events.addEventListener('hello', () => {
      live.value = true
      // Nobody knows what was missed in between.
      if (before) void refresh()
      before = true
    })
    events.addEventListener('lost', () => void refresh())
    events.addEventListener('change', (event: MessageEvent<string>) => {
      const change = JSON.parse(event.data) as { set: number; kinds: string[] }
      if (own.delete(change.set)) return
      // No thing changed, but what people are told did.
      if (change.kinds.length === 0) return void refresh([TOLD])
      change.kinds.forEach((kind) => heard.add(kind))
      if (!waits) askAgain()
    })
    events.addEventListener('error', () => (live.value = false))
  }

  function leave() {
    events?.close()
    events = undefined
    live.value = false
  }

  const turn = () => (document.visibilityState === 'hidden' ? leave() : follow())
  document.addEventListener('visibilitychange', turn)
  window.addEventListener('pagehide', leave)
  window.addEventListener('pageshow', follow)
  follow()
  onScopeDispose(() => {
    leave()
    document.removeEventListener('visibilitychange', turn)
    window.removeEventListener('pagehide', leave)
    window.removeEventListener('pageshow', follow)
  })
}
