import type { FieldDef } from '@/api/collections'
import type { Schemas } from '@/api/client'
import { day, figure, percent, whole } from '@/shared/words'

export interface Linked {
  id: number
  label: string
}

export const links = (value: unknown): Linked[] => (Array.isArray(value) ? (value as Linked[]) : [])
export const keys = (value: unknown): string[] => (Array.isArray(value) ? (value as string[]) : [])

/** A file that a field holds. */
export interface Held {
  id: number
  name: string
  media_type: string
}

export const file = (value: unknown): Held | undefined =>
  typeof value === 'object' && value !== null && 'media_type' in value ? (value as Held) : undefined

/** From – to of a span; a single day is both. */
export function span(value: unknown): [string, string] | undefined {
  if (typeof value !== 'string' || value === '') return undefined
  const [from, to] = value.split('/')
  return from ? [from, to ?? from] : undefined
}

/** The figures of drawn fields; nothing where there are none. */
export const weeksOf = (value: unknown) => (Array.isArray(value) ? (value as number[]) : undefined)
const figures = <T>(value: unknown) => (typeof value === 'object' && value !== null ? (value as T) : undefined)
export const spreadOf = (value: unknown) => figures<Schemas['Spread']>(value)
export const pathOf = (value: unknown) => figures<{ start: number; present: number | null; target: number }>(value)
export const loadOf = (value: unknown) => figures<{ done: number; points: number; capacity: number | null }>(value)

function drawnText(drawing: Schemas['Drawing'], value: unknown): string {
  const [spread, path, load] = [spreadOf(value), pathOf(value), loadOf(value)]
  if (drawing === 'weeks') return weeksOf(value)?.join(' ') ?? ''
  if (drawing === 'spread') return spread ? `${spread.against} · ${spread.neutral} · ${spread.for_it}` : ''
  if (drawing === 'path') return path ? `${path.start} → ${path.present ?? '?'} → ${path.target}` : ''
  return load ? `${figure(load.done)} of ${figure(load.points)} points` : ''
}

const labelOf = (field: FieldDef, key: string) =>
  'choices' in field ? (field.choices.find((choice) => choice.key === key)?.label ?? key) : key

/** A value as people read it. */
export function textOf(field: FieldDef, value: unknown, team: readonly Schemas['TeamMember'][]): string {
  if (field.type === 'yes_no') return value ? 'yes' : ''
  if (value == null || value === '') return ''
  switch (field.type) {
    case 'number':
      return figure(Number(value))
    case 'money':
      return `€ ${whole(Number(value))}`
    case 'rolled_up':
      return field.measure === 'share_done' ? percent(Number(value)) : figure(Number(value))
    case 'date':
      return day(String(value))
    case 'date_range': {
      const [from, to] = span(value) ?? ['', '']
      return from === to ? day(from) : `${day(from)} – ${day(to)}`
    }
    case 'choice':
      return labelOf(field, String(value))
    case 'choices':
      return keys(value)
        .map((key) => labelOf(field, key))
        .join(', ')
    case 'member':
      return team.find((one) => one.id === Number(value))?.name ?? 'nobody here any more'
    case 'file':
      return file(value)?.name ?? ''
    case 'drawn':
      return drawnText(field.drawing, value)
    case 'link':
      return links(value)
        .map((one) => one.label)
        .join(', ')
    default:
      return String(value)
  }
}

/** A value as it is copied: a number without separators, days in the ISO form, so that it can be pasted again. */
export function plainText(field: FieldDef, value: unknown, team: readonly Schemas['TeamMember'][]): string {
  if (value == null) return ''
  if (['number', 'money', 'rolled_up', 'date', 'date_range', 'member'].includes(field.type)) return String(value)
  return textOf(field, value, team)
}

/** Lines of texts as a block that spreadsheets take. The last of several lines ends like the others, so that it may be empty. */
export function toBlock(lines: readonly (readonly string[])[]): string {
  const cell = (text: string) => (/[\t\n"]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text)
  const text = lines.map((line) => line.map(cell).join('\t')).join('\n')
  return lines.length > 1 ? `${text}\n` : text
}

/** A cell within quotes, up to the end of the cell, or as it stands. Quotes around a part of it are somebody's words. */
const CELL = /"((?:[^"]|"")*)"(?=[\t\n]|$)|[^\t\n]*/y

/** A block as spreadsheets give it: tabs between cells, line breaks between lines, both within quotes. */
export function fromBlock(text: string): string[][] {
  const body = text.replaceAll('\r\n', '\n').replace(/\n$/, '')
  const lines: string[][] = []
  let line: string[] = []
  for (let at = 0; at <= body.length; at++) {
    CELL.lastIndex = at
    const [found = '', quoted] = CELL.exec(body) ?? []
    line.push(quoted === undefined ? found : quoted.replaceAll('""', '"'))
    at += found.length
    if (body[at] === '\t') continue
    lines.push(line)
    line = []
  }
  return lines
}
