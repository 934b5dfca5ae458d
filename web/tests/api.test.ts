import { deepEqual, equal, ok, rejects } from 'node:assert/strict'
import { test } from 'node:test'
import { useAttempt } from '@/api/attempt'
import { api, ApiProblem, LOST, value, type Saved, type Thing } from '@/api/client'
import { fetchRows } from '@/api/collections'
import { takeout } from '@/api/files'
import { conflict, line, own, showUnanswered, useSave } from '@/api/save'
import { Typed } from '@/api/typed'
import { answer, answering, problem, withoutWaiting } from './server'
import { within } from './within'

const rows = { collection: 'idea', product: 1, query: {} } as const
const note = () => value(api.PUT('/api/v1/visit', { body: { product: 1 } }))

test('a question is asked again where the connection was lost', async () => {
  const asked = answering((_, n) => (n < 3 ? undefined : answer([])))
  const { done, waits } = await withoutWaiting(() => value(api.GET('/api/v1/products')))
  deepEqual(done, [])
  equal(asked.length, 3)
  deepEqual(waits, [300, 1_500])
})

test('rows are a question too, although it is long', async () => {
  const asked = answering((_, n) => (n < 2 ? undefined : answer({ count: 0, rows: [] })))
  await withoutWaiting(() => fetchRows(rows))
  equal(asked.length, 2)
  deepEqual(asked[0], asked[1])
})

test('what changes something is sent once', async () => {
  const asked = answering(() => undefined)
  await rejects(note(), (error) => error instanceof ApiProblem && error.body === LOST)
  equal(asked.length, 1)
})

test('what the server refuses is told by its words, and what is no problem of ours as a lost connection', async () => {
  answering(() => problem('not-found', 404))
  await rejects(
    note(),
    (error) => error instanceof ApiProblem && error.code === 'not-found' && error.message === 'It is not-found.',
  )
  answering(() => answer({ some: 'proxy' }, 502))
  await rejects(note(), (error) => error instanceof ApiProblem && error.body === LOST)
})

test('an attempt tells a problem and gives nothing, and lets faults of ours through', async () => {
  const { it: attempt } = await within('/', useAttempt)
  answering(() => problem('forbidden', 403))
  equal(await attempt(note), undefined)
  equal(line.problem?.code, 'forbidden')
  await rejects(
    attempt(() => Promise.reject(new RangeError('ours'))),
    RangeError,
  )
})

test('only what the server could not answer is told at the bottom for every view', () => {
  const told = () => [line.problem?.status, line.unanswered]
  Object.assign(line, { problem: undefined, unanswered: false })
  showUnanswered(new ApiProblem({ ...LOST, code: 'not-found', status: 404 }))
  showUnanswered(new RangeError('ours'))
  deepEqual(told(), [undefined, false])
  showUnanswered(new ApiProblem({ ...LOST, status: 503 }))
  deepEqual(told(), [503, true])
})

const story: Thing = { kind: 'work_item', id: 14 }
const saved: Saved = { change: 70, label: 'S14 changed', thing: story, rev: 4 }
const stale = (present: object) => problem('stale', 409, { present })
const editing = async () => (await within('/', useSave)).it

test('a write is told with its step, and its own event asks nothing again', async () => {
  const { save } = await editing()
  line.problem = LOST
  const done = await save(Promise.resolve({ saved, more: 'kept' }))
  equal(done?.more, 'kept')
  deepEqual([line.saved, line.problem], [saved, undefined])
  ok(own.has(70))
})

test('an edit says over which version it is made', async () => {
  const { edit } = await editing()
  const asked = answering(() => answer(saved))
  deepEqual(await edit(story, { rev: 3, title: 'Old' } as never, { title: 'New' }), saved)
  deepEqual(asked, [{ method: 'PATCH', path: '/api/v1/things/work_item/14', body: { rev: 3, set: { title: 'New' } } }])
})

test('where somebody changed another field the edit is made on top', async () => {
  const { edit } = await editing()
  const asked = answering((_, n) => (n === 1 ? stale({ rev: 9, title: 'Old', points: 8 }) : answer(saved)))
  deepEqual(await edit(story, { rev: 3, title: 'Old', points: 5 } as never, { title: 'New' }), saved)
  deepEqual(
    asked.map((one) => (one.body as { rev: number }).rev),
    [3, 9],
  )
  equal(conflict.value, undefined)
})

/** Picks one of the two versions as soon as they are shown, and gives what was shown. */
async function picking<T>(mine: boolean, act: Promise<T>) {
  while (!conflict.value) await new Promise((resolve) => setTimeout(resolve, 1))
  const { pick, ...shown } = conflict.value
  pick(mine)
  return { done: await act, shown }
}

test('where somebody changed the same field both versions are shown, and mine is written where it is picked', async () => {
  const { edit } = await editing()
  const asked = answering((_, n) => (n === 1 ? stale({ rev: 9, title: 'Theirs' }) : answer(saved)))
  const { done, shown } = await picking(true, edit(story, { rev: 3, title: 'Old' } as never, { title: 'Mine' }))
  deepEqual(done, saved)
  deepEqual(shown, {
    thing: story,
    base: { title: 'Old' },
    mine: { title: 'Mine' },
    theirs: { rev: 9, title: 'Theirs' },
  })
  deepEqual(asked.at(-1)?.body, { rev: 9, set: { title: 'Mine' } })
  equal(conflict.value, undefined)
})

test('where theirs is picked nothing is written', async () => {
  const { edit } = await editing()
  const asked = answering(() => stale({ rev: 9, title: 'Theirs' }))
  const { done } = await picking(false, edit(story, { rev: 3, title: 'Old' } as never, { title: 'Mine' }))
  equal(done, undefined)
  equal(asked.filter((one) => one.method === 'PATCH').length, 1)
})

test('what arrived while somebody typed is shown before anything is sent', async () => {
  const { edit } = await editing()
  const asked = answering(() => answer(saved))
  const set = { title: new Typed('Mine', 'Old') }
  const { done, shown } = await picking(true, edit(story, { rev: 9, title: 'Theirs' } as never, set))
  deepEqual([shown.base, shown.mine], [{ title: 'Old' }, { title: 'Mine' }])
  deepEqual(done, saved)
  deepEqual(asked[0]?.body, { rev: 9, set: { title: 'Mine' } })
})

test('lists are the same where they say the same', async () => {
  const { edit } = await editing()
  answering(() => answer(saved))
  const set = { tags: new Typed(['a', 'b'], ['a']) }
  deepEqual(await edit(story, { rev: 3, tags: ['a'] } as never, set), saved)
})

test('an edit that is refused is told, and nothing comes back', async () => {
  const { edit } = await editing()
  answering(() => problem('forbidden', 403))
  equal(await edit(story, { rev: 3, title: 'Old' } as never, { title: 'New' }), undefined)
  equal(line.problem?.code, 'forbidden')
})

test('addresses of files say what is to be in them, and leave out what is not asked', () => {
  equal(takeout.release(3), '/api/v1/takeout/releases/3.md')
  equal(
    takeout.report('docx', { product: 1, from: undefined, segment: 'Late & cold' }),
    '/api/v1/takeout/report.docx?product=1&segment=Late+%26+cold',
  )
})
