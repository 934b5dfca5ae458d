/** The notes of a conversation while they are taken: who speaks by one key, tags, and the clock. */

export interface Speaker {
  key: string
  name: string
}

export interface Line {
  speaker: string
  words: string
  tags: string[]
  atMs: number
  question: string
}

export interface Draft {
  person: string
  account: string
  day: string
  /** When the clock stood at 0:00, in milliseconds since 1970; 0 before it runs. */
  began: number
  speakers: Speaker[]
  speaking: string
  question: number
  lines: Line[]
}

/** The key of what is seen and not said. */
export const SEEN = '.'

/** A key for each name: the first of its letters that no other one has. */
export function speakersOf(names: readonly string[]): Speaker[] {
  const taken = new Set<string>()
  const found: Speaker[] = []
  for (const name of names.map((one) => one.trim()).filter(Boolean)) {
    const letters = [...name.toLowerCase(), ...'123456789'].filter((letter) => /[\p{L}\d]/u.test(letter))
    const key = letters.find((letter) => !taken.has(letter))
    if (!key || found.some((one) => one.name === name)) continue
    taken.add(key)
    found.push({ key, name })
  }
  return found
}

/** Whom a line names in front, such as `m: I was late`, and the words behind. */
export function switchOf(text: string, speakers: readonly Speaker[]): { speaking: string; rest: string } | undefined {
  const match = /^\s*(\S)\s*:\s?/u.exec(text)
  const key = match?.[1]?.toLowerCase()
  if (!match || !key) return undefined
  const named = key === SEEN ? SEEN : speakers.find((one) => one.key === key)?.key
  return named === undefined ? undefined : { speaking: named, rest: text.slice(match[0].length) }
}

/** The words of a line without its tags, and the tags. */
export function tagged(text: string): { words: string; tags: string[] } {
  const tags = [...text.matchAll(/(?<=^|\s)#([\p{L}\d][\p{L}\d-]*)/gu)].map((match) => match[1]!.toLowerCase())
  const words = text
    .replaceAll(/(?<=^|\s)#[\p{L}\d][\p{L}\d-]*/gu, '')
    .replaceAll(/\s+/gu, ' ')
    .trim()
  return { words, tags: [...new Set(tags)] }
}

/** A time from the beginning: 1:02:03. */
export function clock(ms: number): string {
  const two = (number: number) => String(number).padStart(2, '0')
  const [hours, minutes, seconds] = [Math.floor(ms / 3.6e6), Math.floor(ms / 6e4) % 60, Math.floor(ms / 1000) % 60]
  return hours ? `${hours}:${two(minutes)}:${two(seconds)}` : `${minutes}:${two(seconds)}`
}

const keyOf = (study: number) => `iron-kite-conversation-${study}`

/** What was noted in this browser and is not kept yet. */
export function drafted(study: number): Draft | undefined {
  try {
    const text = localStorage.getItem(keyOf(study))
    return text ? (JSON.parse(text) as Draft) : undefined
  } catch {
    return undefined
  }
}

export function keepDraft(study: number, draft: Draft | undefined) {
  if (draft) localStorage.setItem(keyOf(study), JSON.stringify(draft))
  else localStorage.removeItem(keyOf(study))
}
