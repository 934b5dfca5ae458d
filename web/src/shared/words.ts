/** Words and figures as people read them. */

const WHOLE = new Intl.NumberFormat('en-GB', { maximumFractionDigits: 0 })
const SHORT = new Intl.NumberFormat('en-GB', { maximumFractionDigits: 1 })
const DAY = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric' })
const MOMENT = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' })

export const whole = (value: number) => WHOLE.format(value)
/** One place after the point; what rounds to nothing has no sign. */
export const figure = (value: number) => SHORT.format(value).replace(/^-0$/, '0')

/** Revenue in thousands where it is large: 212 k. */
export const money = (value: number) => (value >= 10_000 ? `${WHOLE.format(value / 1000)} k` : WHOLE.format(value))

export const day = (iso: string | null | undefined) => (iso ? DAY.format(new Date(`${iso}T00:00:00`)) : '')
export const moment = (milliseconds: number) => MOMENT.format(new Date(milliseconds))
export const words = (name: string) => name.replaceAll('_', ' ')
export const count = (number: number, one: string, many = `${one}s`) =>
  `${WHOLE.format(number)} ${number === 1 ? one : many}`
/** The part that is done, with what it counts: points where every story has some, else stories. */
export const partDone = (of: { share: number; points: number; without_points: number }) =>
  `${percent(of.share)} of the ${of.points > 0 && of.without_points === 0 ? 'points' : 'stories'}`
export const percent = (share: number) => `${Math.round(share * 100)} %`

/** How likely chance alone explains something. */
export const chance = (p: number) => (p < 0.001 ? 'p below 0.001' : `p ${p.toFixed(3)}`)

/** Today where this browser stands, as YYYY-MM-DD. */
export function today(): string {
  const now = new Date()
  const two = (number: number) => String(number).padStart(2, '0')
  return `${now.getFullYear()}-${two(now.getMonth() + 1)}-${two(now.getDate())}`
}

/** A text in which days stand as YYYY-MM-DD, with them as people write them. */
export const withDays = (text: string) => text.replace(/\b\d{4}-\d\d-\d\d\b/g, (iso) => day(iso))
