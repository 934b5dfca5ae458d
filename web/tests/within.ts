import { PiniaColada } from '@pinia/colada'
import { createPinia } from 'pinia'
import { createSSRApp, h } from 'vue'
import { renderToString } from 'vue/server-renderer'
import { openedAt } from './routes'

/** What a part of the page would hold at this address, where `around` sets up what stands around it. */
export async function within<T>(path: string, setup: () => T, around: () => void = () => {}) {
  const router = await openedAt(path)
  let held: { it: T } | undefined
  const Inner = {
    setup() {
      held = { it: setup() }
      return () => null
    },
  }
  const Outer = {
    setup() {
      around()
      return () => h(Inner)
    },
  }
  await renderToString(createSSRApp(Outer).use(createPinia()).use(PiniaColada).use(router))
  if (!held) throw new Error('nothing was set up')
  return { it: held.it, router }
}
