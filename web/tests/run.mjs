/**
 * Runs the tests of the front end's own logic: each `*.test.ts` beside this file, read as the build reads it. What needs a page is
 * tested in a browser instead. `node tests/run.mjs chart` runs one file.
 */
import { readdirSync } from 'node:fs'
import { before } from 'node:test'
import { fileURLToPath } from 'node:url'
import { createServer } from 'vite'

// The client asks at the address that the page came from.
globalThis.Request = class extends Request {
  constructor(input, init) {
    super(typeof input === 'string' ? new URL(input, 'http://kite.example') : input, init)
  }
}

const here = fileURLToPath(new URL('.', import.meta.url))
const server = await createServer({
  root: fileURLToPath(new URL('..', import.meta.url)),
  appType: 'custom',
  logLevel: 'error',
  server: { middlewareMode: true, hmr: false, watch: null, ws: false },
  optimizeDeps: { noDiscovery: true },
})

// No test begins before all are read: what it puts in the place of the browser's would be met by those that are read after it.
let begin
const read = new Promise((resolve) => (begin = resolve))
before(() => read)

const [, , only = ''] = process.argv
const files = readdirSync(here).filter((name) => name.endsWith('.test.ts') && name.startsWith(only))
for (const file of files.sort()) await server.ssrLoadModule(`/tests/${file}`)
await server.close()
begin()
