import { onScopeDispose, ref } from 'vue'
import { useRefresh } from './queries'
import { own } from './save'

/** Whether changes of others arrive by themselves just now. */
export const live = ref(false)

/** Follows the changes of everybody and asks again for what they touch. */
export function useLive() {
  const refresh = useRefresh()
  const events = new EventSource('/api/v1/events')
  let before = false
  events.addEventListener('hello', () => {
    live.value = true
    // After a lost connection nobody knows what was missed.
    if (before) void refresh()
    before = true
  })
  events.addEventListener('lost', () => void refresh())
  events.addEventListener('change', (event: MessageEvent<string>) => {
    const change = JSON.parse(event.data) as { set: number; kinds: string[] }
    if (!own.delete(change.set)) void refresh(change.kinds)
  })
  events.addEventListener('error', () => (live.value = false))
  onScopeDispose(() => events.close())
}
