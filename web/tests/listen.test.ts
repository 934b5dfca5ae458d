import { deepEqual, equal, ok } from 'node:assert/strict'
import { test } from 'node:test'
import { clock, drafted, keepDraft, SEEN, speakersOf, switchOf, tagged } from '@/features/listen/conversation'
import { countsOf } from '@/features/listen/given'
import { toldFilter, useSaidFilter } from '@/features/listen/saidFilter'
import { asCsv } from '@/shared/drawing'
import { always } from './chance'
import { within } from './within'

test('each speaker has a key of their own, from their name where it can be', () => {
  deepEqual(speakersOf(['Mara', 'Tam', ' ', 'Mo']), [
    { key: 'm', name: 'Mara' },
    { key: 't', name: 'Tam' },
    { key: 'o', name: 'Mo' },
  ])
  // A name whose letters are all taken has a figure.
  deepEqual(
    speakersOf(['Ab', 'Ba', 'Aa']).map((one) => one.key),
    ['a', 'b', '1'],
  )
  deepEqual(
    speakersOf(['Åsa', 'Åsa', "'Ole"]).map((one) => one.key),
    ['å', 'o'],
  )
  always(200, (by) => {
    const name = () => by.list(4, () => by.one(['a', 'b', 'Å', ' ', '-', '7'])).join('')
    const found = speakersOf(by.list(9, name))
    equal(new Set(found.map((one) => one.key)).size, found.length)
    equal(new Set(found.map((one) => one.name)).size, found.length)
  })
})

test('a key and a colon in front say who speaks', () => {
  const speakers = speakersOf(['Mara', 'Tam'])
  deepEqual(switchOf('m: I was late', speakers), { speaking: 'm', rest: 'I was late' })
  deepEqual(switchOf('  T :I was not', speakers), { speaking: 't', rest: 'I was not' })
  deepEqual(switchOf('.: she laughs', speakers), { speaking: SEEN, rest: 'she laughs' })
  for (const words of ['x: nobody', 'Mara: by name', 'at 10: the boat', '', ':'])
    equal(switchOf(words, speakers), undefined)
})

test('tags are taken out of the words, and figures within words are none', () => {
  deepEqual(tagged('The boat was late #Notices  and cold #heat #notices'), {
    words: 'The boat was late and cold',
    tags: ['notices', 'heat'],
  })
  deepEqual(tagged('pier#3 at gate #3b, # alone'), { words: 'pier#3 at gate , # alone', tags: ['3b'] })
  deepEqual(tagged('#Übergang'), { words: '', tags: ['übergang'] })
})

test('the clock tells hours only where there are some', () => {
  equal(clock(0), '0:00')
  equal(clock(59_999), '0:59')
  equal(clock(600_000), '10:00')
  equal(clock(3_723_000), '1:02:03')
})

test('notes that were not kept yet outlive the page, and broken ones are none', () => {
  const kept = new Map<string, string>()
  globalThis.localStorage = {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, text: string) => void kept.set(key, text),
    removeItem: (key: string) => void kept.delete(key),
  } as never
  const draft = { person: 'Mara', lines: [{ words: 'late' }] } as never
  keepDraft(4, draft)
  deepEqual(drafted(4), draft)
  equal(drafted(5), undefined)
  keepDraft(4, undefined)
  equal(drafted(4), undefined)
  for (const key of ['iron-kite-conversation-6']) kept.set(key, '{half')
  equal(drafted(6), undefined)
})

test('what is picked in a picture stands in the address, beside what was there', async () => {
  const { it: filter, router } = await within(
    '/p/1/listen/finding?from=2026-01-01&source=3&side=against&at=x',
    useSaidFilter,
  )
  deepEqual(filter.value, { from: '2026-01-01', source: 3, side: 'against' })
  filter.value = { segment: '', kind: 'leaving' } as never
  await new Promise((resolve) => setTimeout(resolve, 5))
  deepEqual(router.currentRoute.value.query, { at: 'x', segment: '', kind: 'leaving' })
  deepEqual(filter.value, { segment: '', kind: 'leaving' as never })
})

test('each part of a filter is told in words, with the filter without it', () => {
  const filter = { from: '2026-01-05', source: 3, segment: '', kind: 'feature_wish', side: 'for_it' } as never
  const told = toldFilter(filter, [{ key: '3', label: 'Reviews' } as never])
  deepEqual(
    told.map(([words]) => words),
    ['5 Jan 2026 – today', 'no segment', 'Reviews', 'feature wish', 'for'],
  )
  for (const [, without] of told) equal(Object.values(without).filter((one) => one !== undefined).length, 4)
  deepEqual(toldFilter({}, []), [])
  equal(toldFilter({ to: '2026-02-01' }, [])[0]?.[0], 'the beginning – 1 Feb 2026')
  equal(toldFilter({ source: 9 }, [])[0]?.[0], 'one source')
})

test('only parts that hold things are counted', () => {
  const counts = { new: 3, same: 1, changed: 0, left_out: 2 }
  deepEqual(countsOf({ holds: 'table', counts } as never), counts)
  deepEqual(countsOf({ holds: 'nothing' } as never), { new: 0, same: 0, changed: 0, left_out: 0 })
})

/** A plain reader of CSV (RFC 4180), letter by letter. */
function readCsv(text: string): string[][] {
  const lines: string[][] = []
  let line: string[] = []
  let cell = ''
  let quoted = false
  for (let at = 0; at < text.length; at++) {
    const letter = text[at] ?? ''
    if (quoted && letter === '"' && text[at + 1] === '"') cell += text[++at]
    else if (letter === '"') quoted = !quoted
    else if (quoted) cell += letter
    else if (letter === ',') {
      line.push(cell)
      cell = ''
    } else if (letter === '\r' && text[at + 1] === '\n') {
      lines.push([...line, cell])
      line = []
      cell = ''
      at++
    } else cell += letter
  }
  return lines
}

test('figures of a drawing are read back from CSV, and no words become a formula', () => {
  equal(
    asCsv([
      ['Idea', 'Effort'],
      ['=1+1', -3],
    ]),
    "Idea,Effort\r\n'=1+1,-3\r\n",
  )
  always(300, (by) => {
    const letters = ['a', ',', '"', '\n', '\r', ' ', '=', 'é']
    const lines = Array.from({ length: by.whole(1, 4) }, () =>
      Array.from({ length: 3 }, () => by.list(6, () => by.one(letters)).join('')),
    )
    const kept = lines.map((line) => line.map((cell) => (/^[=+\-@\t\r]/.test(cell) ? `'${cell}` : cell)))
    deepEqual(readCsv(asCsv(lines)), kept)
    ok(
      readCsv(asCsv(lines))
        .flat()
        .every((cell) => !cell.startsWith('=')),
    )
  })
})
