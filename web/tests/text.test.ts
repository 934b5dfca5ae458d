import { deepEqual, equal } from 'node:assert/strict'
import { test } from 'node:test'
import type { FieldDef } from '@/api/collections'
import { file, fromBlock, plainText, span, textOf, toBlock } from '@/features/collections/text'
import { always } from './chance'

const field = (of: Partial<FieldDef> & { type: string }) => ({ name: 'it', label: 'It', ...of }) as unknown as FieldDef
const team = [{ id: 7, name: 'Wren Aldous' }] as never

test('a block that was copied is pasted as it was', () => {
  always(400, (by) => {
    const width = by.whole(1, 4)
    const letters = ['a', 'é', '"', '\t', '\n', ' ', ',', '😀', '']
    const cell = () => by.list(6, () => by.one(letters)).join('')
    const lines = Array.from({ length: by.whole(1, 5) }, () => Array.from({ length: width }, cell))
    deepEqual(fromBlock(toBlock(lines)), lines)
  })
})

test('blocks of spreadsheets are read', () => {
  deepEqual(fromBlock('Late\t12\r\n"two\r\nlines"\t"say ""no"""\r\n'), [
    ['Late', '12'],
    ['two\nlines', 'say "no"'],
  ])
  deepEqual(fromBlock('one\n\nthree'), [['one'], [''], ['three']])
  deepEqual(fromBlock(''), [['']])
  deepEqual(fromBlock('\t\n\t'), [
    ['', ''],
    ['', ''],
  ])
})

test('quotes of what somebody said stay', () => {
  deepEqual(fromBlock('"No boat" was all they said'), [['"No boat" was all they said']])
  deepEqual(fromBlock('"open\tnext'), [['"open', 'next']])
  deepEqual(fromBlock('5" pipe\t"'), [['5" pipe', '"']])
})

test('one cell is copied as its words alone', () => {
  equal(toBlock([['late']]), 'late')
  equal(toBlock([['a', 'b']]), 'a\tb')
})

test('a span is two days or one', () => {
  deepEqual(span('2026-01-02/2026-02-03'), ['2026-01-02', '2026-02-03'])
  deepEqual(span('2026-01-02'), ['2026-01-02', '2026-01-02'])
  equal(span(''), undefined)
  equal(span(null), undefined)
  equal(span(12), undefined)
})

test('each type of field is shown as people read it and copied as it is typed', () => {
  const choices = [{ key: 'high', label: 'High' }] as never
  const cases: [FieldDef, unknown, string, string][] = [
    [field({ type: 'text' }), 'as it is', 'as it is', 'as it is'],
    [field({ type: 'number' }), 1234.56, '1,234.6', '1234.56'],
    [field({ type: 'money' }), 1234.56, '€ 1,235', '1234.56'],
    [field({ type: 'date' }), '2026-03-09', '9 Mar 2026', '2026-03-09'],
    [field({ type: 'date_range' }), '2026-03-09/2026-03-09', '9 Mar 2026', '2026-03-09/2026-03-09'],
    [field({ type: 'date_range' }), '2026-03-09/2026-04-01', '9 Mar 2026 – 1 Apr 2026', '2026-03-09/2026-04-01'],
    [field({ type: 'choice', choices }), 'high', 'High', 'High'],
    [field({ type: 'choice', choices }), 'gone', 'gone', 'gone'],
    [field({ type: 'choices', choices }), ['high', 'gone'], 'High, gone', 'High, gone'],
    [field({ type: 'member' }), 7, 'Wren Aldous', '7'],
    [field({ type: 'member' }), 8, 'nobody here any more', '8'],
    [field({ type: 'yes_no' }), true, 'yes', 'yes'],
    [field({ type: 'yes_no' }), false, '', ''],
    [field({ type: 'yes_no' }), null, '', ''],
    [
      field({ type: 'link' } as never),
      [
        { id: 1, label: 'S1' },
        { id: 2, label: 'S2' },
      ],
      'S1, S2',
      'S1, S2',
    ],
    [field({ type: 'rolled_up', measure: 'share_done' } as never), 0.25, '25 %', '0.25'],
    [field({ type: 'rolled_up', measure: 'sum' } as never), 3, '3', '3'],
    [field({ type: 'file' }), { id: 3, name: 'plan.pdf', media_type: 'application/pdf' }, 'plan.pdf', 'plan.pdf'],
    [field({ type: 'drawn', drawing: 'weeks' } as never), [1, 0, 4], '1 0 4', '1 0 4'],
    [
      field({ type: 'drawn', drawing: 'spread' } as never),
      { against: 1, neutral: 2, for_it: 3 },
      '1 · 2 · 3',
      '1 · 2 · 3',
    ],
    [
      field({ type: 'drawn', drawing: 'path' } as never),
      { start: 1, present: null, target: 3 },
      '1 → ? → 3',
      '1 → ? → 3',
    ],
    [
      field({ type: 'drawn', drawing: 'load' } as never),
      { done: 2, points: 5, capacity: 9 },
      '2 of 5 points',
      '2 of 5 points',
    ],
    [field({ type: 'number' }), null, '', ''],
    [field({ type: 'text' }), '', '', ''],
  ]
  for (const [of, value, shown, copied] of cases) {
    equal(textOf(of, value, team), shown, of.type)
    equal(plainText(of, value, team), copied, of.type)
  }
})

test('a file is told from other values', () => {
  equal(file('plan.pdf'), undefined)
  equal(file(null), undefined)
  equal(file({ id: 1, name: 'a', media_type: 'text/plain' })?.id, 1)
})
