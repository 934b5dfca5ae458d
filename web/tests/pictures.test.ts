import { deepEqual, equal, match, ok } from 'node:assert/strict'
import { test } from 'node:test'
import ChartBars from '@/features/collections/ChartBars.vue'
import ChartHeat from '@/features/collections/ChartHeat.vue'
import FigureDrawing from '@/features/collections/FigureDrawing.vue'
import ObjectivePicture from '@/features/decide/ObjectivePicture.vue'
import ScoreInterval from '@/features/decide/ScoreInterval.vue'
import RoadmapChart from '@/features/handover/RoadmapChart.vue'
import FindingPicture from '@/features/listen/FindingPicture.vue'
import KiteMark from '@/shared/KiteMark.vue'
import LoadBar from '@/shared/LoadBar.vue'
import ObjectivePath from '@/shared/ObjectivePath.vue'
import PartBars from '@/shared/PartBars.vue'
import PeriodBars from '@/shared/PeriodBars.vue'
import SpreadBar from '@/shared/SpreadBar.vue'
import WeekBars from '@/shared/WeekBars.vue'
import { chances, type Chance } from './chance'
import { drawn, faultsOf, wordsOf } from './drawn'

const number = (by: Chance) => by.one([0, 0, 1, by.whole(0, 9), by.whole(0, 100_000), by.share()])
const spread = (by: Chance) => ({ against: by.whole(0, 9), neutral: by.whole(0, 9), for_it: by.whole(0, 9) })
const iso = (day: number) => new Date(day * 86_400_000).toISOString().slice(0, 10)

/** Tries drawings of any figures; each is drawn without a fault. */
async function sound(times: number, draw: (by: Chance) => Promise<string>) {
  for (const by of chances(times)) deepEqual(faultsOf(await draw(by)), [], `drawing ${by.seed}`)
}

test('small drawings hold for any figures', async () => {
  await sound(60, (by) => drawn(WeekBars, { weeks: by.list(12, () => number(by)) }))
  await sound(50, (by) => {
    const { against, neutral, for_it } = spread(by)
    return drawn(SpreadBar, { against, neutral, forIt: for_it })
  })
  await sound(40, (by) => {
    const points = number(by)
    return drawn(LoadBar, { points, done: points * by.share(), capacity: by.one([null, 0, number(by)]) })
  })
  await sound(40, (by) => {
    const present = by.one([null, -number(by), number(by)])
    return drawn(ObjectivePath, { start: number(by), present, target: number(by) })
  })
})

test('a drawn field is the drawing of its figures, and nothing where it has none', async () => {
  const words = async (drawing: string, value: unknown) => drawn(FigureDrawing, { drawing, value })
  match(await words('weeks', [1, 0, 4]), /1, 0, 4/)
  match(await words('load', { done: 2, points: 5, capacity: 9 }), /2 of 5 points done, 9 fit/)
  for (const drawing of ['weeks', 'load', 'spread', 'path']) equal(wordsOf(await words(drawing, null)), '')
})

test('a state is a word beside its sign, for any state', async () => {
  match(wordsOf(await drawn(KiteMark, { state: 'handed_over' })), /handed over/)
  deepEqual(faultsOf(await drawn(KiteMark, { state: 'nobody knows' })), [])
})

const axes = (by: Chance, most: number) => by.list(most, () => 0).map((_, n) => ({ key: `k${n}`, label: `Name ${n}` }))

test('charts hold for any figures, many series and none', async () => {
  for (const kind of ['bar', 'line'] as const)
    await sound(40, (by) => {
      const at = () => by.one([undefined, number(by), -number(by)])
      return drawn(ChartBars, { kind, xs: axes(by, 12), series: axes(by, 40), at, title: 'Points' })
    })
  await sound(40, (by) => {
    const at = () => by.one([undefined, number(by), -number(by)])
    return drawn(ChartHeat, { xs: axes(by, 6), series: axes(by, 6), at, title: 'Points' })
  })
})

test('all series of bars are named within the picture, also below few bars', async () => {
  for (const by of chances(30)) {
    const series = axes(by, 20).map((one) => ({ ...one, label: 'x'.repeat(by.whole(1, 50)) }))
    const html = await drawn(ChartBars, {
      kind: 'bar',
      xs: [{ key: 'a', label: 'A' }],
      series,
      at: () => 1,
      title: 'Points',
    })
    const [, width, height] = (/<svg[^>]*? width="(\d+)" height="(\d+)"/.exec(html) ?? []).map(Number)
    const named = [
      ...html.matchAll(/translate\(([\d.]+), ([\d.]+)\)" data-legend.*?<text x="20" y="11"[^>]*>([^<]*)</g),
    ]
    equal(named.length, series.length > 1 ? series.length : 0)
    for (const [, x, y, text = ''] of named)
      ok(
        Number(x) + 20 + text.length * 6.8 <= (width ?? 0) && Number(y) + 12 <= (height ?? 0),
        `${x} ${y} ${text} in ${width}`,
      )
    equal(html.includes('The fillings come again'), series.length > 6)
  }
})

const stretches = (by: Chance, most: number) =>
  by
    .list(most, () => 0)
    .map((_, n) => {
      const told = spread(by)
      const from = iso(20_000 + n * 7)
      return {
        from,
        to: iso(20_006 + n * 7),
        excerpts: told.against + told.neutral + told.for_it,
        spread: told,
        mean: 0,
      }
    })

test('what was said over time is drawn, however long that is', async () => {
  await sound(40, (by) =>
    drawn(PeriodBars, { title: 'Over time', over: { stretches: stretches(by, 300), left_out: by.whole(0, 3) } }),
  )
})

test('parts are drawn with their names, and those that belong to none', async () => {
  await sound(40, (by) => {
    const parts = by.list(12, () => {
      const told = spread(by)
      const label = by.one([null, 'A very long name of a segment that does not fit', 'Short'])
      return { key: by.one([null, 'k']), label, excerpts: number(by), spread: told, mean: 0 }
    })
    return drawn(PartBars, { title: 'By segment', parts, none: 'no segment' })
  })
})

test('the course of an objective is drawn, with one value, with none and on one day', async () => {
  await sound(40, (by) => {
    const day = 20_000
    const start = number(by)
    const values = by.list(5, () => 0).map((_, n) => ({ on: iso(day + n * by.whole(0, 20)), value: number(by) }))
    const forecast = by.one([null, { on: iso(day + 90), likely: 4, low: 1, high: 9, reaches: 0.4 }])
    const way = by.one([
      [],
      [
        { on: iso(day), value: start },
        { on: iso(day + by.whole(0, 90)), value: 5 },
      ],
    ])
    const sheet = {
      start_value: start,
      target_value: by.one([start, 5]),
      values,
      forecast,
      way,
      measure: 'calls',
      unit: null,
    }
    return drawn(ObjectivePicture, { sheet })
  })
})

test('a score lies on its scale, also where all scores are the same', async () => {
  await sound(50, (by) => {
    const sorted = [1, 2, 3, 4, 5].map(() => by.share() * 40).sort((a, b) => a - b)
    const [low, quarter, median, three_quarters, high] = by.one([sorted, [7, 7, 7, 7, 7]])
    const [from, to] = by.one([
      [0, 50],
      [7, 7],
    ])
    return drawn(ScoreInterval, { spread: { low, quarter, median, three_quarters, high }, from, to })
  })
  match(
    wordsOf(
      await drawn(ScoreInterval, {
        spread: { low: 7, quarter: 7, median: 7, three_quarters: 7, high: 7 },
        from: 0,
        to: 9,
      }),
    ),
    /exact/,
  )
})

const progress = { stories: 4, stories_done: 1, points: 20, points_done: 5, share: 0.25 }
const release = (id: number, ends_on: string | null) => ({ id, title: `Boat ${id}`, state: 'planned', ends_on })

test('releases lie in their quarters, within the picture', async () => {
  const quarters = [1, 2, 3, 4].map((number) => ({ year: 2026, number }))
  const widths = (html: string) =>
    [...html.matchAll(/left:([\d.]+)%;width:([\d.]+)%/g)].map((one) => [Number(one[1]), Number(one[2])])
  const bar = (id: number, from: number | null, to: number | null) => ({
    release: release(id, '2026-06-30'),
    from,
    to,
    progress,
    entries: [],
    trouble: null,
  })
  const html = await drawn(RoadmapChart, {
    roadmap: { quarters, today: 1.5, bars: [bar(1, 0, 2), bar(2, 3, 9), bar(3, null, null)] },
  })
  deepEqual(widths(html), [
    [0, 50],
    [75, 25],
  ])
  for (const by of chances(50)) {
    const bars = by.list(6, () => bar(by.whole(1, 9), by.one([null, by.share() * 9]), by.one([null, by.share() * 9])))
    const html = await drawn(RoadmapChart, { roadmap: { quarters, today: by.share() * 9, bars } })
    deepEqual(faultsOf(html), [])
    for (const [left = 0, width = 0] of widths(html)) ok(left >= 0 && left <= 100 && width > 0, `${left} ${width}`)
  }
})

test('a roadmap says how far each release is and what is in the way', async () => {
  const entries = [
    { epic_id: 1, title: 'Early warnings', progress },
    { epic_id: null, title: 'Without an epic', progress },
  ]
  const bars = [{ release: release(2, null), from: null, to: null, progress, entries, trouble: 'S4 comes too late' }]
  const words = wordsOf(
    await drawn(RoadmapChart, { roadmap: { quarters: [{ year: 2026, number: 1 }], today: 0, bars } }),
  )
  for (const part of [
    'R2 Boat 2',
    'no day yet',
    '5 of 20 points · 25 %',
    'S4 comes too late',
    'E1 Early warnings',
    '1 of 4 stories',
  ])
    ok(words.includes(part), `${part} in ${words}`)
})

test('the picture of a finding holds for any figures', async () => {
  await sound(40, (by) => {
    const part = (key: string) => ({ key, label: key, excerpts: number(by), spread: spread(by), mean: 0 })
    const picture = {
      over_time: { stretches: stretches(by, 20), left_out: by.whole(0, 2) },
      sources: [part('Reviews')],
      segments: [part('islanders')],
      kinds: by.one([[], [part('defect'), part('praise')]]),
      frustration: { people: by.whole(0, 9), negativity: by.share(), frustration: by.share() * 9 },
      contrary: [],
      contrary_count: 0,
      stands_for: [],
      unknown: by.one([[], ['2 excerpts were said on no known day.']]),
      voices: { people: by.whole(0, 9), accounts: 1, revenue: by.one([0, 212_000]) },
    }
    return drawn(FindingPicture, { picture, modelValue: {} })
  })
})
