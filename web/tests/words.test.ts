import { deepEqual, equal } from 'node:assert/strict'
import { test } from 'node:test'
import { chance, count, day, figure, money, percent, today, whole, withDays, words } from '@/shared/words'

test('figures are written as people read them', () => {
  equal(whole(1234567.4), '1,234,567')
  equal(figure(2.345), '2.3')
  equal(figure(1200), '1,200')
  equal(figure(-0.04), '0')
  equal(figure(-0.06), '-0.1')
  equal(money(9_999), '9,999')
  equal(money(10_000), '10 k')
  equal(money(212_400), '212 k')
  equal(percent(0.005), '1 %')
  equal(percent(1), '100 %')
})

test('days are written out, and what is no day is nothing', () => {
  equal(day('2026-03-09'), '9 Mar 2026')
  equal(day(''), '')
  equal(day(null), '')
  equal(day(undefined), '')
  equal(withDays('from 2026-03-09 to 2026-12-31'), 'from 9 Mar 2026 to 31 Dec 2026')
  equal(withDays('order 12026-03-091 stays'), 'order 12026-03-091 stays')
})

test('today is the day where the browser stands', () => {
  const [year, month, date] = today().split('-').map(Number)
  const now = new Date()
  deepEqual([year, month, date], [now.getFullYear(), now.getMonth() + 1, now.getDate()])
})

test('one is told from many', () => {
  equal(count(0, 'idea'), '0 ideas')
  equal(count(1, 'idea'), '1 idea')
  equal(count(1_000, 'story', 'stories'), '1,000 stories')
  equal(words('work_item_link'), 'work item link')
  equal(chance(0.0004), 'p below 0.001')
  equal(chance(0.0421), 'p 0.042')
})
