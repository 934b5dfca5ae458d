import { deepEqual, equal } from 'node:assert/strict'
import { test } from 'node:test'
import type { FieldDef } from '@/api/collections'
import { chances, done, foretold, standing, told as toldOf } from '@/features/decide/objectives'
import { labelOf, range, told, typed } from '@/features/decide/scores'
import { ACTS, firstValue, newAct, newRule, newWhen, WHENS } from '@/features/rules/ruleForm'

const served = { under_way: 0, promised: 0, silent: 0, open: 0, weighed: 0 }
const view = (of: object) => ({ unit: '', state: 'under_way', idle: false, served, ...of }) as never
const present = { value: 12 }

test('an objective is told by how far it is from the straight way', () => {
  deepEqual(standing(view({})), { text: 'not measured yet', trouble: false })
  deepEqual(standing(view({ present, unit: 'min' })), { text: 'at 12 min', trouble: false })
  deepEqual(standing(view({ present, ahead: 0.004 })), { text: 'on the straight way', trouble: false })
  deepEqual(standing(view({ present, ahead: -2.5, unit: 'min' })), {
    text: '2.5 min behind the straight way',
    trouble: true,
  })
  deepEqual(standing(view({ present, ahead: 3 })), { text: '3 ahead of the straight way', trouble: false })
})

test('a forecast is told with its range, and where there is none, why', () => {
  const forecast = { likely: 8.04, low: 6, high: 11.26, on: '2026-06-30', reaches: 0.42 }
  equal(foretold(view({ forecast, unit: 'min' })).text, '8 min on 30 Jun 2026, if it goes on as it did (6 to 11.3)')
  deepEqual(chances(view({ forecast })), { text: 'target 42 % likely', trouble: true })
  deepEqual(chances(view({ forecast: { ...forecast, reaches: 0.5 } }))?.trouble, false)
  equal(chances(view({})), undefined)
  for (const no_forecast of ['no_day', 'too_few', 'over']) equal(foretold(view({ no_forecast })).text.length > 10, true)
  equal(foretold(view({})).text, '')
})

test('what is done for an objective is told, and that nothing is', () => {
  deepEqual(done(view({ idle: true })), { text: 'nothing is under way for it', trouble: true })
  equal(done(view({ idle: true, state: 'planned' })).trouble, false)
  equal(
    done(view({ idle: true, served: { ...served, weighed: 1 } })).text,
    'nothing is under way for it; 1 idea is being weighed',
  )
  equal(done(view({})).text, 'something is under way for its parts')
  equal(
    done(view({ served: { under_way: 2, promised: 0.6, silent: 1, open: 0.4, weighed: 0 } })).text,
    '2 things under way for 60 % of the way, 1 of them without saying how much; 40 % of the way is nobody’s',
  )
  equal(done(view({ served: { ...served, under_way: 1 } })).text, '1 thing under way')
})

test('all of it in one order, without what says nothing', () => {
  deepEqual(
    toldOf(view({ idle: true })).map((one) => one.text),
    ['not measured yet', 'nothing is under way for it'],
  )
})

test('a score has three places that count, and from ten on none behind the point', () => {
  deepEqual([0, 1.23456, -9.999, 9.996, 10.4, 12_345.6, 0.000123456, null, undefined].map(told), [
    '0',
    '1.23',
    '-10',
    '10',
    '10',
    '12,346',
    '0.000123',
    '–',
    '–',
  ])
})

test('an estimate is one number or three, and is typed as it can be read again', () => {
  const one = { low: 3, likely: 3, high: 3 } as never
  const three = { low: 1.5, likely: 3, high: 1_200 } as never
  deepEqual([range(one), typed(one)], ['3', '3'])
  deepEqual([range(three), typed(three)], ['1.5 – 3 – 1,200', '1.5 3 1200'])
})

test('a part of a model has its own name, or that of its field', () => {
  const model = { criteria: [{ field: 'effort', label: 'Weeks' }] } as never
  deepEqual([labelOf(model, 'effort'), labelOf(model, 'time_critical')], ['weeks', 'time critical'])
})

const field = (name: string, type: string, more: object = {}) => ({ name, type, ...more }) as unknown as FieldDef
const state = field('state', 'choice', { choices: [{ key: 'old', retired: true }, { key: 'chosen' }] })

test('a rule begins filled in, whatever sets it off and whatever it does', () => {
  const fields = [field('title', 'text'), field('due', 'date'), state]
  deepEqual(newWhen('created', fields), { sort: 'created' })
  deepEqual(newWhen('day_comes', fields), { sort: 'day_comes', field: 'due', days: 0 })
  deepEqual(newWhen('becomes', fields), { sort: 'becomes', field: 'state', value: 'chosen' })
  deepEqual(newWhen('becomes', [field('ready', 'yes_no')]), { sort: 'becomes', field: 'ready', value: true })
  const offered = { sets: [state], moves_to: ['done'], adds: [field('stories', 'link')] } as never
  deepEqual(newAct('set', offered), { act: 'set', field: 'state', value: 'chosen' })
  deepEqual(newAct('move', offered), { act: 'move', to: 'done', team: null })
  deepEqual(newAct('create', offered), { act: 'create', field: 'stories', title: '' })
  for (const [act] of ACTS) equal(newAct(act, undefined).act, act)
  for (const [sort] of WHENS) equal(newWhen(sort, []).sort, sort)
  equal(newRule().then.length, 1)
})

test('the first value of a field is one that is still used', () => {
  equal(firstValue(state), 'chosen')
  equal(firstValue(field('tags', 'choices', { choices: [] })), null)
  equal(firstValue(field('title', 'text')), null)
  equal(firstValue(undefined), null)
})
