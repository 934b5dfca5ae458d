import { deepEqual, equal, ok } from 'node:assert/strict'
import { test } from 'node:test'
import type { ThingKind } from '@/api/client'
import collections from '@/api/collections.ts?raw'
import { ASKED_BY, ASKED_BY_ALL } from '@/api/queries'
import queries from '@/api/queries.ts?raw'
import talk from '@/api/talk.ts?raw'
import router from '@/router.ts?raw'
import { placeOf, useSelection } from '@/shared/selection'
import { COLLECTIONS, KINDS } from '@/api/kinds.gen'
import { DECIDE, LISTEN, listOf, PLAN, SPECIFY, tabsOf, thingIn } from '@/shared/tabs'
import { commandsOf } from '@/shell/commands'
import { STAGES } from '@/shell/stages'
import { within } from './within'

const TABS = [...LISTEN, ...DECIDE, ...SPECIFY, ...PLAN]

test('each collection stands on a tab of its stage, by its name', () => {
  for (const collection of COLLECTIONS) {
    const stage = STAGES.find((one) => one.path === KINDS[collection].stage)
    ok(stage, collection)
    const tab = tabsOf(collection).find((one) => one.params?.collection === collection)
    equal(tab?.params?.stage, stage.path, collection)
  }
  equal(new Set(TABS.map((one) => one.label)).size, TABS.length)
})

test('each place that tabs and things lead to is one of the addresses', () => {
  const known = new Set([...router.matchAll(/name: '([a-z-]+)'/g)].map((found) => found[1]))
  for (const tab of TABS) ok(known.has(tab.name), tab.name)
  const kinds = [...COLLECTIONS, 'decision', 'result', 'product'] as ThingKind[]
  for (const kind of kinds) ok(known.has(placeOf({ kind, id: 1 }, 1).name), kind)
})

test('a thing is looked at where its kind stands', () => {
  deepEqual(placeOf({ kind: 'finding', id: 4 }, 2), {
    name: 'finding',
    params: { product: 2, id: 4 } as never,
    query: { at: 'finding:4' },
  })
  deepEqual(placeOf({ kind: 'decision', id: 4 }, 2).query, { view: 'decisions', at: 'decision:4' })
  const product = placeOf({ kind: 'product', id: 2 }, 2)
  deepEqual([product.name, product.query], ['collection', { at: 'product:2' }])
  deepEqual(thingIn('idea', 3, 'all').query, { view: 'all', at: 'idea:3' })
  deepEqual(thingIn('idea', 3).query, { at: 'idea:3' })
  deepEqual(listOf('term').params, { stage: 'listen', collection: 'term' })
})

test('what is selected stands in the address, and what holds it stays open', async () => {
  const { it: selection, router } = await within('/p/3/listen/feedback_item?view=all', useSelection)
  equal(selection.product.value, 3)
  equal(selection.selected.value, undefined)
  const settled = () => new Promise((resolve) => setTimeout(resolve, 5))

  selection.select('feedback_item', 12)
  await settled()
  deepEqual([selection.opened.value, selection.isSelected('feedback_item', 12)], [12, true])
  selection.select('excerpt', 40)
  await settled()
  deepEqual(router.currentRoute.value.query, { view: 'all', at: 'excerpt:40', of: '12' })
  deepEqual([selection.opened.value, selection.selected.value], [12, { kind: 'excerpt', id: 40 }])

  equal(selection.whole.value, false)
  await selection.setWhole(true)
  equal(selection.whole.value, true)
  await selection.setWhole(false)
  equal(selection.whole.value, false)
})

test('an address that names nothing selects nothing', async () => {
  for (const at of ['idea:', 'idea:x', ':4', 'idea:-1', '']) {
    const { it: selection } = await within(`/p/3/decide/idea?at=${at}`, useSelection)
    equal(selection.selected.value, undefined, at)
  }
  const { it: whole } = await within('/p/3/decide/idea?whole=yes', useSelection)
  equal(whole.whole.value, false)
})

test('the find box leads to every stage and tab, each by its own words', () => {
  const went: unknown[] = []
  let undone = 0
  const acts = { undo: () => undone++, redo: () => {}, keys: () => {}, note: () => {} }
  const commands = commandsOf({ push: (to: unknown) => went.push(to) } as never, 5, acts)
  equal(new Set(commands.map((one) => one.label)).size, commands.length)
  for (const stage of STAGES) commands.find((one) => one.label === `Go to ${stage.label}`)?.run()
  deepEqual(went, STAGES.map((stage) => `/p/5/${stage.path}`) as unknown[])
  for (const tab of TABS)
    ok(
      commands.some((one) => one.label === `Open ${tab.label.toLowerCase()}`),
      tab.label,
    )
  commands.find((one) => one.label === 'Undo my last change')?.run()
  equal(undone, 1)
})

test('what a question reads is told, so that it is asked again when that changes', () => {
  const told = new Set([...Object.keys(ASKED_BY), ...ASKED_BY_ALL])
  // People, sessions and what comes with the program are no things of the ledger; who changes them asks again.
  const others = new Set(['me', 'team', 'collections', 'study-templates', 'narrower', 'notices', 'notice-settings'])
  const keys = [queries, collections, talk].flatMap((file) => [...file.matchAll(/key: (?:\(\) => )?\['([a-z-]+)'/g)])
  ok(keys.length > 40)
  for (const [, key] of keys) ok(told.has(key ?? '') || others.has(key ?? ''), key)
})
