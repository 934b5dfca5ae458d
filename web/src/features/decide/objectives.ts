import type { Schemas } from '@/api/client'
import { count, day, figure, percent } from '@/shared/words'

type View = Schemas['ObjectiveView']
export type Said = { text: string; trouble: boolean }

const WHY_NOT: Record<Schemas['NoForecast'], string> = {
  no_day: 'no day to foretell for',
  too_few: 'measured on too few days to foretell anything',
  over: 'its day has come',
}

const within = (view: View, value: number) => `${figure(value)}${view.unit ? ` ${view.unit}` : ''}`

/** How far it is against the straight way. */
export function standing(view: View): Said {
  if (!view.present) return { text: 'not measured yet', trouble: false }
  if (view.ahead == null) return { text: `at ${within(view, view.present.value)}`, trouble: false }
  const far = Math.abs(view.ahead)
  if (far < 0.005) return { text: 'on the straight way', trouble: false }
  return {
    text: `${within(view, far)} ${view.ahead < 0 ? 'behind' : 'ahead of'} the straight way`,
    trouble: view.ahead < 0,
  }
}

/** Where it will be on its day. */
export function foretold(view: View): Said {
  const told = view.forecast
  if (!told) return { text: view.no_forecast ? WHY_NOT[view.no_forecast] : '', trouble: false }
  return {
    text: `${within(view, told.likely)} on ${day(told.on)}, if it goes on as it did (${figure(told.low)} to ${figure(told.high)})`,
    trouble: false,
  }
}

/** How likely it is that the target is reached. */
export function chances(view: View): Said | undefined {
  const likely = view.forecast?.reaches
  if (likely === undefined) return undefined
  return { text: `target ${percent(likely)} likely`, trouble: likely < 0.5 }
}

/** All of it, in the order in which somebody asks. */
export const told = (view: View): Said[] =>
  [standing(view), chances(view), foretold(view), done(view)].filter((one): one is Said => Boolean(one?.text))

/** What is done for it, and what nobody does anything for. */
export function done(view: View): Said {
  const { under_way, promised, silent, open, weighed } = view.served
  if (view.idle) {
    const thought = weighed ? `; ${count(weighed, 'idea is', 'ideas are')} being weighed` : ''
    return { text: `nothing is under way for it${thought}`, trouble: view.state !== 'planned' }
  }
  if (!under_way) return { text: 'something is under way for its parts', trouble: false }
  const unsaid = silent ? `, ${silent} of them without saying how much` : ''
  const rest = open > 0 ? `; ${percent(open)} of the way is nobody’s` : ''
  const promise = promised > 0 ? ` for ${percent(promised)} of the way` : ''
  return { text: `${count(under_way, 'thing')} under way${promise}${unsaid}${rest}`, trouble: false }
}
