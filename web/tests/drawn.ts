import { PiniaColada } from '@pinia/colada'
import { createPinia } from 'pinia'
import { createSSRApp, h, type Component } from 'vue'
import { renderToString } from 'vue/server-renderer'
import { openedAt } from './routes'

/** A part of the page as HTML, drawn without a page: without its size, its clock and its events. */
export async function drawn(part: Component, props: object, path = '/p/1/listen/finding'): Promise<string> {
  const app = createSSRApp({ render: () => h(part, props) })
  app.config.warnHandler = (words) => {
    throw new Error(words)
  }
  return renderToString(
    app
      .use(createPinia())
      .use(PiniaColada)
      .use(await openedAt(path)),
  )
}

/** What is wrong with the figures of a drawing: no number, or a length below nothing. */
export function faultsOf(html: string): string[] {
  const wrong = [...html.matchAll(/[\w-]+="[^"]*(?:NaN|undefined|Infinity)[^"]*"/g)].map(([fault]) => fault)
  const negative = [...html.matchAll(/ (?:width|height|r)="-[\d.e-]+"/g)].map(([fault]) => fault)
  return [...wrong, ...negative]
}

/** The words of a part of the page, without its marks. */
export const wordsOf = (html: string) =>
  html
    .replaceAll(/<!--.*?-->/g, '')
    .replaceAll(/<[^>]*>/g, ' ')
    .replaceAll('&amp;', '&')
    .replaceAll('&#39;', "'")
    .replaceAll('&quot;', '"')
    .replaceAll(/\s+/g, ' ')
    .trim()
