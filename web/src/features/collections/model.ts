import { titleField, type Collection, type Definition, type FieldDef, type Filter } from '@/api/collections'
import type { Schemas } from '@/api/client'

export type Kind = Schemas['ViewKind']
export type Operator = Schemas['Operator']
export type Test = Extract<Filter, { field: string }>

export const KINDS: readonly { kind: Kind; label: string }[] = [
  { kind: 'table', label: 'Table' },
  { kind: 'columns', label: 'Columns' },
  { kind: 'timeline', label: 'Timeline' },
  { kind: 'calendar', label: 'Calendar' },
  { kind: 'gallery', label: 'Gallery' },
  { kind: 'list', label: 'List' },
  { kind: 'chart', label: 'Chart' },
]

export type Shape = Schemas['Shape']

const EMPTY: [Operator, string][] = [
  ['empty', 'is empty'],
  ['filled', 'is filled in'],
]
const DAYS: [Operator, string][] = [
  ['within', 'is within'],
  ['is_not', 'is not within'],
  ['more', 'is after'],
  ['less', 'is before'],
  ['at_least', 'is on or after'],
  ['at_most', 'is on or before'],
  ...EMPTY,
]

/** How a field can be looked at, in words. */
export const OPERATORS: Record<Shape, [Operator, string][]> = {
  text: [
    ['contains', 'contains'],
    ['lacks', 'lacks'],
    ['is', 'is'],
    ['is_not', 'is not'],
    ['begins', 'begins with'],
    ...EMPTY,
  ],
  number: [
    ['at_least', 'is at least'],
    ['at_most', 'is at most'],
    ['more', 'is more than'],
    ['less', 'is less than'],
    ['is', 'is'],
    ['is_not', 'is not'],
    ...EMPTY,
  ],
  day: DAYS,
  days: DAYS,
  yes: [['is', 'is']],
  file: EMPTY,
  drawn: EMPTY,
  choice: [['any_of', 'is one of'], ['none_of', 'is none of'], ...EMPTY],
  choices: [['any_of', 'has one of'], ['all_of', 'has all of'], ['none_of', 'has none of'], ...EMPTY],
  member: [['any_of', 'is one of'], ['none_of', 'is none of'], ...EMPTY],
  links: [['any_of', 'leads to one of'], ['all_of', 'leads to all of'], ['none_of', 'leads to none of'], ...EMPTY],
}

export const PERIODS: readonly (readonly [Schemas['Period'], string])[] = [
  ['today', 'today'],
  ['yesterday', 'yesterday'],
  ['tomorrow', 'tomorrow'],
  ['this_week', 'this week'],
  ['last_week', 'last week'],
  ['next_week', 'next week'],
  ['this_month', 'this month'],
  ['last_month', 'last month'],
  ['next_month', 'next month'],
  ['this_quarter', 'this quarter'],
  ['last_quarter', 'last quarter'],
  ['next_quarter', 'next quarter'],
  ['this_year', 'this year'],
  ['last_year', 'last year'],
  ['next_year', 'next year'],
  ['last7_days', 'the last 7 days'],
  ['last30_days', 'the last 30 days'],
  ['last90_days', 'the last 90 days'],
  ['next30_days', 'the next 30 days'],
]

/** A new condition on a field, filled in as far as it can be. */
export function newTest(field: FieldDef): Test {
  const shape = field.shape
  const operator = OPERATORS[shape][0]?.[0] ?? 'filled'
  return { field: field.name, operator, value: firstValue(shape, operator) }
}

export function firstValue(shape: Shape, operator: Operator): unknown {
  if (operator === 'empty' || operator === 'filled') return undefined
  if (shape === 'day' || shape === 'days') return { relative: 'this_quarter' }
  if (shape === 'yes') return true
  if (shape === 'choice' || shape === 'choices' || shape === 'member' || shape === 'links') return []
  return shape === 'number' ? 0 : ''
}

/** The part of a filter that says enough to be asked: what is still being filled in is left out; nothing where all is. */
export function asked(filter: Filter | null | undefined): Filter | undefined {
  if (!filter) return undefined
  const parts = (all: readonly Filter[]) => all.map(asked).filter((one) => one !== undefined)
  if ('and' in filter) return parts(filter.and).length ? { and: parts(filter.and) } : undefined
  if ('or' in filter) return parts(filter.or).length ? { or: parts(filter.or) } : undefined
  if ('not' in filter) {
    const inner = asked(filter.not)
    return inner && { not: inner }
  }
  const open = filter.value === '' || (Array.isArray(filter.value) && filter.value.length === 0)
  return open ? undefined : filter
}

/** How many conditions a filter has. */
export function conditions(filter: Filter | null | undefined): number {
  if (!filter) return 0
  if ('and' in filter) return filter.and.reduce((sum, one) => sum + conditions(one), 0)
  if ('or' in filter) return filter.or.reduce((sum, one) => sum + conditions(one), 0)
  return 'not' in filter ? conditions(filter.not) : 1
}

export const shown = (fields: readonly FieldDef[]) => fields.filter((field) => !field.retired)
export const fieldOf = (fields: readonly FieldDef[], name: string | null | undefined) =>
  fields.find((field) => field.name === name)

const isDay = (field: FieldDef) => field.type === 'date' || field.type === 'date_range'
export const dayFields = (fields: readonly FieldDef[]) => shown(fields).filter(isDay)
export const figureFields = (fields: readonly FieldDef[]) => shown(fields).filter((one) => one.shape === 'number')
export const orderFields = (fields: readonly FieldDef[]) =>
  shown(fields).filter((one) => !['choices', 'file', 'drawn'].includes(one.type) && !(one.type === 'link' && one.many))
export const groupFields = (fields: readonly FieldDef[]) =>
  shown(fields).filter(
    (one) => !['date_range', 'file', 'drawn', 'long_text'].includes(one.type) && one.name !== 'reference',
  )

/** The table that a collection opens with where no view is saved: what fits, long texts and long lists left out. */
export function firstView(collection: Collection, fields: readonly FieldDef[]): Definition {
  const title: string = titleField(collection)
  const wide = (field: FieldDef) => field.name !== title && (field.type === 'long_text' || isLongList(field))
  const columns = shown(fields).filter((field) => !wide(field))
  return {
    kind: 'table',
    order: collection === 'person' || collection === 'account' ? [{ field: 'name', descending: false }] : [],
    group: [],
    totals: [],
    fields: columns
      .slice(0, 10)
      .map((field) => ({ name: field.name, pinned: field.name === title || field.name === 'reference' })),
    limits: {},
  }
}

const isLongList = (field: FieldDef) => field.type === 'link' && field.many

/** What another kind of view needs beside what the present one has. Switching never touches the data. */
export function asKind(kind: Kind, present: Definition, fields: readonly FieldDef[]): Definition {
  const next: Definition = { ...present, kind }
  const group = present.group ?? []
  if ((kind === 'columns' || kind === 'chart') && group.length === 0) {
    const first = shown(fields).find((field) => field.type === 'choice') ?? groupFields(fields)[1]
    if (first) next.group = [{ field: first.name }]
  }
  if ((kind === 'timeline' || kind === 'calendar') && !fieldOf(fields, present.from)) {
    const days = dayFields(fields)
    const span = days.find((field) => field.type === 'date_range')
    next.from = (span ?? days[0])?.name
    next.to = (span ?? days[1] ?? days[0])?.name
  }
  if (kind === 'timeline') next.zoom = present.zoom ?? 'quarter'
  if (kind === 'chart') next.chart = present.chart ?? { kind: 'bar' }
  return next
}

export const WIDTH = 150
export const widthOf = (field: FieldDef, given: number | null | undefined) => {
  if (given) return given
  if (field.type === 'long_text' || field.name === 'title') return 280
  if (field.name === 'name') return 220
  return field.shape === 'number' || field.type === 'yes_no' || field.name === 'reference'
    ? Math.max(96, field.label.length * 8 + 22)
    : WIDTH
}
