import type { Collection, FieldDef } from '@/api/collections'
import type { Schemas } from '@/api/client'

export type Definition = Schemas['RuleDefinition']
export type When = Schemas['When']
export type Act = Schemas['Act']

/** What sets a rule off, and the steps that it can take, as they are offered. */
export const WHENS: readonly (readonly [When['sort'], string])[] = [
  ['becomes', 'a field becomes a value'],
  ['created', 'something is added'],
  ['day_comes', 'a day comes'],
]
export const ACTS: readonly (readonly [Act['act'], string])[] = [
  ['notify', 'tell somebody'],
  ['set', 'set a field'],
  ['move', 'move it to a state'],
  ['create', 'add something that hangs on it'],
  ['comment', 'write a comment'],
]

/** Collections that rules can look at: those whose things belong to a product as a whole. */
export const RULED: readonly Collection[] = [
  ...(['idea', 'work_item', 'objective', 'release', 'increment', 'request', 'feedback_item'] as const),
  ...(['finding', 'study', 'document', 'page', 'sprint', 'term', 'competitor_note'] as const),
]

/** The first value that a field can have. */
export function firstValue(field: FieldDef | undefined): unknown {
  if (!field) return null
  if ('choices' in field) return field.choices.find((one) => !one.retired)?.key ?? null
  return field.type === 'yes_no' ? true : null
}

export function newWhen(sort: When['sort'], fields: readonly FieldDef[]): When {
  if (sort === 'created') return { sort }
  if (sort === 'day_comes') return { sort, field: fields.find((one) => one.type === 'date')?.name ?? '', days: 0 }
  const field = fields.find((one) => one.name === 'state') ?? fields.find((one) => one.type === 'choice') ?? fields[0]
  return { sort, field: field?.name ?? '', value: firstValue(field) }
}

export function newAct(act: Act['act'], fields: Schemas['RuleFields'] | undefined): Act {
  switch (act) {
    case 'set': {
      const field = fields?.sets[0]
      return { act, field: field?.name ?? '', value: firstValue(field) }
    }
    case 'move':
      return { act, to: fields?.moves_to[0] ?? '', team: null }
    case 'create':
      return { act, field: fields?.adds[0]?.name ?? '', title: '' }
    case 'comment':
      return { act, words: '' }
    default:
      return { act: 'notify', people: [], roles: [], field: null, words: '' }
  }
}

export const newRule = (): Definition => ({
  collection: 'idea',
  when: { sort: 'becomes', field: 'state', value: 'chosen' },
  only_if: null,
  then: [newAct('notify', undefined)],
})
