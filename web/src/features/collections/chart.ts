/** Geometry of charts: scales with round ticks, and where bars, points and lines stand. */

export interface Scale {
  from: number
  to: number
  ticks: number[]
}

/**
 * A scale from – to with about five round ticks, whole ones for whole numbers; it begins at zero where everything is on one
 * side of it.
 */
export function scaleOf(numbers: readonly number[], fromZero: boolean): Scale {
  let low = Math.min(...numbers, ...(fromZero || numbers.length === 0 ? [0] : []))
  let high = Math.max(...numbers, ...(fromZero || numbers.length === 0 ? [0] : []))
  if (low === high) {
    high = low + 1
    if (!fromZero) low -= 1
  }
  const rough = (high - low) / 5
  const whole = numbers.every(Number.isInteger)
  const power = Math.max(10 ** Math.floor(Math.log10(rough)), whole ? 1 : 0)
  const round = [1, 2, 2.5, 5, 10].map((one) => one * power).filter((one) => !whole || Number.isInteger(one))
  const step = round.find((one) => one >= rough) ?? 10 * power
  const from = Math.floor(low / step) * step
  const to = Math.ceil(high / step) * step
  const ticks: number[] = []
  for (let n = 0; from + n * step <= to + step / 2; n++) ticks.push(Number((from + n * step).toPrecision(12)))
  return { from, to, ticks }
}

export const place = (value: number, scale: Scale, length: number) =>
  ((value - scale.from) / (scale.to - scale.from)) * length

/** The outline of a sign of about this size around a point: series are told apart by shape, not by colour alone. */
export function sign(n: number, x: number, y: number, r: number): string {
  const at = (points: readonly (readonly [number, number])[]) =>
    `M${points.map(([dx, dy]) => `${(x + dx * r).toFixed(1)},${(y + dy * r).toFixed(1)}`).join('L')}Z`
  switch (n % 6) {
    case 0:
      return `M${x - r},${y}a${r},${r} 0 1,0 ${2 * r},0a${r},${r} 0 1,0 ${-2 * r},0Z`
    case 1:
      return at([
        [0, -1.25],
        [1.1, 0],
        [0, 1.25],
        [-1.1, 0],
      ])
    case 2:
      return at([
        [-0.9, -0.9],
        [0.9, -0.9],
        [0.9, 0.9],
        [-0.9, 0.9],
      ])
    case 3:
      return at([
        [0, -1.2],
        [1.1, 0.8],
        [-1.1, 0.8],
      ])
    case 4:
      return at([
        [-1.1, -0.8],
        [1.1, -0.8],
        [0, 1.2],
      ])
    default:
      return at([
        [-1.2, 0],
        [0, -0.5],
        [1.2, 0],
        [0, 0.5],
      ])
  }
}

export interface Named {
  x: number
  y: number
  r: number
  text: string
}

/**
 * Where the names of points stand so that none covers another or a point: right, left, above or below, the largest
 * points first; a name that fits nowhere is left out.
 */
export function namesOf(points: readonly Named[], width: number): Map<number, { x: number; y: number }> {
  type Box = [number, number, number, number]
  const apart = (a: Box, b: Box) => a[2] <= b[0] || b[2] <= a[0] || a[3] <= b[1] || b[3] <= a[1]
  const taken: Box[] = points.map(({ x, y, r }) => [x - r, y - r, x + r, y + r])
  const found = new Map<number, { x: number; y: number }>()
  const order = points.map((_, n) => n).sort((a, b) => (points[b]?.r ?? 0) - (points[a]?.r ?? 0))
  for (const n of order) {
    const point = points[n]
    if (!point?.text) continue
    const { x, y, r, text } = point
    const long = text.length * 6.3
    const places = [
      { x: x + r + 4, y: y + 4 },
      { x: x - r - 4 - long, y: y + 4 },
      { x: x - long / 2, y: y - r - 5 },
      { x: x - long / 2, y: y + r + 14 },
    ]
    for (const at of places) {
      const box: Box = [at.x, at.y - 11, at.x + long, at.y + 3]
      if (box[0] < 0 || box[2] > width || taken.some((other, m) => m !== n && !apart(box, other))) continue
      taken.push(box)
      found.set(n, at)
      break
    }
  }
  return found
}

/** How far one line of names is from the next. */
export const LEGEND_LINE = 20
/** Room for the sign before a name, and for a letter. */
const SIGN = 20
const LETTER = 6.8
/** So long a name is at most. */
const LONGEST = 28

/** Where names with their signs stand below a picture, in as many lines as they need. */
export function legendOf(names: readonly string[], width: number) {
  const entries: { x: number; y: number; text: string }[] = []
  let [x, line] = [0, 0]
  for (const name of names) {
    const text = name.length > LONGEST ? `${name.slice(0, LONGEST - 1)}…` : name
    const long = SIGN + text.length * LETTER + 16
    if (x > 0 && x + long > width) [x, line] = [0, line + 1]
    entries.push({ x, y: line * LEGEND_LINE, text })
    x += long
  }
  return { entries, lines: names.length > 0 ? line + 1 : 0 }
}

export const DASHES = ['', '7 4', '2 3', '10 3 2 3', '4 4', '1 5']

/** The middle of numbers. */
export function median(numbers: readonly number[]): number | undefined {
  const sorted = [...numbers].sort((a, b) => a - b)
  const middle = Math.floor(sorted.length / 2)
  const upper = sorted[middle]
  if (upper === undefined) return undefined
  return sorted.length % 2 ? upper : ((sorted[middle - 1] ?? upper) + upper) / 2
}
