import { deepEqual, equal } from 'node:assert/strict'
import { test } from 'node:test'
import { ref } from 'vue'
import type { Collection, Definition, FieldDef, Filter, FirstView, SavedView } from '@/api/collections'
import {
  asked,
  asKind,
  conditions,
  dayFields,
  figureFields,
  firstView,
  groupFields,
  newTest,
  OPERATORS,
  orderFields,
  shown,
  widthOf,
  type Shape,
} from '@/features/collections/model'
import { useViewState } from '@/features/collections/viewState'
import { always, type Chance } from './chance'
import { within } from './within'

const field = (name: string, type: string, shape: Shape, more: object = {}) =>
  ({ name, type, shape, label: name, editable: true, retired: false, ...more }) as unknown as FieldDef
const FIELDS = [
  field('reference', 'text', 'text'),
  field('title', 'text', 'text'),
  field('notes', 'long_text', 'text'),
  field('state', 'choice', 'choice', { choices: [] }),
  field('starts', 'date', 'day'),
  field('ends', 'date', 'day'),
  field('effort', 'number', 'number'),
  field('tags', 'choices', 'choices', { choices: [] }),
  field('ideas', 'link', 'links', { many: true }),
  field('owner', 'member', 'member'),
  field('plan', 'file', 'file'),
  field('course', 'drawn', 'drawn'),
  field('old', 'number', 'number', { retired: true }),
]
const names = (fields: readonly FieldDef[]) => fields.map((one) => one.name)

const filled: Filter = { field: 'title', operator: 'contains', value: 'late' }
const empty: Filter = { field: 'title', operator: 'contains', value: '' }
const none: Filter = { field: 'state', operator: 'any_of', value: [] }

test('what is still being filled in is not asked', () => {
  equal(asked(undefined), undefined)
  equal(asked(empty), undefined)
  equal(asked(none), undefined)
  deepEqual(asked(filled), filled)
  deepEqual(asked({ and: [empty, filled] }), { and: [filled] })
  equal(asked({ or: [empty, { not: none }] }), undefined)
  deepEqual(asked({ not: { or: [filled, none] } }), { not: { or: [filled] } })
  // Nothing, no and zero are values like others.
  for (const value of [0, false, null, undefined]) deepEqual(asked({ ...filled, value }), { ...filled, value })
})

function filterBy(by: Chance, depth = 0): Filter {
  const sort = depth > 3 ? 'test' : by.one(['test', 'test', 'and', 'or', 'not'] as const)
  const parts = () => by.list(3, () => filterBy(by, depth + 1))
  if (sort === 'and') return { and: parts() }
  if (sort === 'or') return { or: parts() }
  return sort === 'not' ? { not: filterBy(by, depth + 1) } : by.one([filled, empty, none])
}

test('what is asked has exactly the conditions that say something, in their order', () => {
  const filledIn = (filter: Filter | undefined) => JSON.stringify(filter ?? null).split('"late"').length - 1
  always(400, (by) => {
    const filter = filterBy(by)
    const left = asked(filter)
    equal(conditions(left), filledIn(filter))
    equal(filledIn(left), filledIn(filter))
    deepEqual(asked(left), left)
  })
  equal(conditions(undefined), 0)
})

test('a new condition begins with the first way to look at its field', () => {
  for (const one of FIELDS) {
    const begun = newTest(one)
    equal(begun.field, one.name)
    equal(begun.operator, OPERATORS[one.shape][0]?.[0])
  }
  const value = (name: string) => newTest(FIELDS.find((one) => one.name === name) as FieldDef).value
  deepEqual([value('title'), value('effort'), value('tags'), value('plan')], ['', 0, [], undefined])
  deepEqual(value('starts'), { relative: 'this_quarter' })
})

test('fields are offered for what they can do', () => {
  deepEqual(names(dayFields(FIELDS)), ['starts', 'ends'])
  deepEqual(names(figureFields(FIELDS)), ['effort'])
  deepEqual(names(orderFields(FIELDS)), ['reference', 'title', 'notes', 'state', 'starts', 'ends', 'effort', 'owner'])
  deepEqual(names(groupFields(FIELDS)), ['title', 'state', 'starts', 'ends', 'effort', 'tags', 'ideas', 'owner'])
  equal(names(shown(FIELDS)).includes('old'), false)
})

test('a collection opens as a table of what fits, its name at the left', () => {
  const { kind, fields, order } = firstView('idea', FIELDS)
  equal(kind, 'table')
  deepEqual(order, [])
  deepEqual(
    fields?.map((one) => [one.name, one.pinned]),
    [
      ['reference', true],
      ['title', true],
      ...['state', 'starts', 'ends', 'effort', 'tags', 'owner', 'plan', 'course'].map((name) => [name, false]),
    ],
  )
  const words = [field('words', 'long_text', 'text'), ...FIELDS]
  equal(firstView('excerpt', words).fields?.[0]?.name, 'words')
  deepEqual(firstView('person', [field('name', 'text', 'text')]).order, [{ field: 'name', descending: false }])
})

test('another kind of view gets what it needs and keeps what there was', () => {
  const before: Definition = { kind: 'table', filter: filled, order: [{ field: 'effort', descending: true }] }
  const columns = asKind('columns', before, FIELDS)
  deepEqual(
    [columns.kind, columns.group, columns.filter, columns.order],
    ['columns', [{ field: 'state' }], filled, before.order],
  )
  const timeline = asKind('timeline', before, FIELDS)
  deepEqual([timeline.from, timeline.to, timeline.zoom], ['starts', 'ends', 'quarter'])
  const spans = asKind('calendar', before, [field('span', 'date_range', 'days'), ...FIELDS])
  deepEqual([spans.from, spans.to], ['span', 'span'])
  deepEqual(asKind('chart', before, FIELDS).chart, { kind: 'bar' })
  const chosen: Definition = { kind: 'chart', group: [{ field: 'owner' }], chart: { kind: 'line' } as never }
  deepEqual(asKind('columns', chosen, FIELDS).group, [{ field: 'owner' }])
  deepEqual(asKind('chart', asKind('table', chosen, FIELDS), FIELDS), chosen)
  equal(asKind('timeline', before, [field('title', 'text', 'text')]).from, undefined)
})

test('a column is as wide as somebody made it, or as its words need', () => {
  const long = field('effort', 'number', 'number', { label: 'How long it would take' })
  equal(widthOf(long, 77), 77)
  equal(widthOf(long, null), 198)
  deepEqual([widthOf(field('e', 'number', 'number'), 0), widthOf(field('x', 'text', 'text'), null)], [96, 150])
  deepEqual([widthOf(field('title', 'text', 'text'), null), widthOf(field('name', 'text', 'text'), null)], [280, 220])
})

const saved = (id: number, more: object = {}) =>
  ({
    id,
    opens_first: false,
    definition: { kind: 'list', group: [{ field: String(id) }] },
    ...more,
  }) as unknown as SavedView
const first = (key: string) => ({ key, definition: { kind: 'table', group: [{ field: key }] } }) as unknown as FirstView

/** What a view shows at an address, told by the field that it groups by. */
async function viewAt(query: string, views: readonly SavedView[], firsts: readonly FirstView[]) {
  const setup = () => useViewState(ref<Collection>('idea'), ref(FIELDS), ref(views), ref(firsts))
  const { it: state, router } = await within(`/p/1/decide/idea${query}`, setup)
  return { state, router, by: state.definition.value?.group?.[0]?.field }
}

test('the address says which view is shown', async () => {
  const views = [saved(1), saved(2, { opens_first: true })]
  const firsts = [first('open'), first('all')]
  equal((await viewAt('', views, firsts)).by, '2')
  equal((await viewAt('', [saved(1)], firsts)).by, 'open')
  equal((await viewAt('?view=1', views, firsts)).by, '1')
  equal((await viewAt('?view=all', views, firsts)).by, 'all')
  equal((await viewAt('?view=none', views, firsts)).by, undefined)
  const typed = encodeURIComponent(JSON.stringify({ kind: 'chart', group: [{ field: 'owner' }] }))
  const { by, state } = await viewAt(`?view=1&d=${typed}`, views, firsts)
  deepEqual([by, state.changed.value, state.saved.value?.id], ['owner', true, 1])
  // An address that was cut short opens the view without what was changed.
  const cut = await viewAt(`?view=1&d=${encodeURIComponent('{"kind":"cha')}`, views, firsts)
  deepEqual([cut.by, cut.state.changed.value], ['1', false])
})

test('a change stands in the address beside its view, and goes when it is saved', async () => {
  const { state, router } = await viewAt('?view=1&at=idea:3', [saved(1)], [])
  await state.show({ kind: 'gallery' })
  deepEqual(router.currentRoute.value.query, { view: '1', at: 'idea:3', d: '{"kind":"gallery"}' })
  await state.asSaved(9)
  deepEqual(router.currentRoute.value.query.view, '9')
  equal(router.currentRoute.value.query.d ?? undefined, undefined)
})

test('fields that are gone are not asked for', async () => {
  const definition = {
    kind: 'table',
    fields: [{ name: 'title' }, { name: 'gone' }, { name: 'old' }],
    order: [{ field: 'gone' }, { field: 'effort' }],
    group: [{ field: 'old' }],
    totals: [{ field: 'effort', measure: 'sum' }],
    filter: { and: [empty, filled] },
  }
  const { state } = await viewAt('?view=1', [saved(1, { definition })], [])
  deepEqual(state.queryFor(['effort', 'title', 'missing', null]), {
    filter: { and: [filled] },
    order: [{ field: 'effort' }] as never,
    group: [],
    totals: [{ field: 'effort', measure: 'sum' }],
    fields: ['title', 'effort'],
  })
})
