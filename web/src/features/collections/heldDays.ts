import { ref, type ComputedRef } from 'vue'
import type { RowView } from '@/api/collections'
import { useCollection } from './context'
import { placed, shifted, written, type DayFields, type Placed } from './daySpans'

/** A thing whose days are being moved, by hand or by keys: nothing is written before it is put down. */
export function useHeldDays(
  days: ComputedRef<DayFields>,
  rows: () => readonly RowView[],
  words: (from: number, to: number) => string,
  moved: (id: number) => void = () => {},
) {
  const { setMany } = useCollection()
  const held = ref<{ id: number; from: number; to: number; keys: boolean }>()
  const saying = ref('')

  /** Puts a thing down on these days, where they are others than before. */
  async function keep(id: number, from: number, to: number) {
    held.value = undefined
    const row = rows().find((one) => one.id === id)
    const was = row && placed(row, days.value)
    if (!was || (was.from === from && was.to === to)) return
    await setMany(was.row, written(days.value, from, to))
  }

  /** Whether a thing may be moved; says why where it may not. */
  function mayMove() {
    if (days.value.fixed) saying.value = days.value.fixed
    return !days.value.fixed
  }

  function onKey(event: KeyboardEvent, thing: Placed) {
    const now = held.value?.keys && held.value.id === thing.row.id ? held.value : undefined
    if (event.key === ' ') {
      event.preventDefault()
      if (now) {
        saying.value = `Put down ${thing.row.reference}: ${words(now.from, now.to)}`
        void keep(now.id, now.from, now.to)
      } else if (mayMove()) {
        held.value = { id: thing.row.id, from: thing.from, to: thing.to, keys: true }
        saying.value = `Picked up ${thing.row.reference}. Arrows move it by a day or a week, with Shift its end; Space puts it down, Escape leaves it.`
      }
    } else if (now && event.key === 'Escape') held.value = undefined
    else if (now) {
      const next = shifted(now, event, 7)
      if (!next) return
      event.preventDefault()
      held.value = { ...now, ...next }
      saying.value = words(next.from, next.to)
      moved(thing.row.id)
    }
  }

  return { held, saying, keep, mayMove, onKey }
}
