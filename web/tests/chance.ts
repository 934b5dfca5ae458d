/** Numbers that look like chance and are the same each time. */
export interface Chance {
  seed: number
  /** From 0 to 1. */
  share: () => number
  /** A whole number, `from` and `to` among them. */
  whole: (from: number, to: number) => number
  one: <T>(of: readonly T[]) => T
  list: <T>(most: number, make: () => T) => T[]
}

/** The generator mulberry32. */
function chance(seed: number): Chance {
  let state = seed
  const share = () => {
    state = (state + 0x6d2b79f5) | 0
    let t = Math.imul(state ^ (state >>> 15), 1 | state)
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32
  }
  const whole = (from: number, to: number) => from + Math.floor(share() * (to - from + 1))
  return {
    seed,
    share,
    whole,
    one: (of) => of[whole(0, of.length - 1)] as (typeof of)[number],
    list: (most, make) => Array.from({ length: whole(0, most) }, make),
  }
}

/** So many that differ, for what takes its time. */
export const chances = (times: number): Chance[] => Array.from({ length: times }, (_, n) => chance(n + 1))

/** Tries a law so many times, each time with other numbers. What fails says with which seed. */
export function always(times: number, law: (by: Chance) => void) {
  for (let seed = 1; seed <= times; seed++) {
    try {
      law(chance(seed))
    } catch (fault) {
      throw new Error(`with seed ${seed}: ${fault instanceof Error ? fault.message : String(fault)}`, { cause: fault })
    }
  }
}
