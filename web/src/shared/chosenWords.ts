import { onMounted, onUnmounted, ref, type Ref } from 'vue'

/** A stretch of a text, counted in characters as the server does, not in UTF-16 units. */
export interface Stretch {
  from: number
  to: number
}

/** Words of about a line. */
const LINE = 8

/** Pieces of the text that is shown; each says with `data-from` where it begins. What stands between them is none of it. */
const piecesOf = (root: HTMLElement) => [...root.querySelectorAll<HTMLElement>('[data-from]')]
const beginOf = (piece: HTMLElement) => Number(piece.dataset.from)
const lettersOf = (text: string) => Array.from(text)

/** The part of a text that is selected on the screen. */
function selectedIn(root: HTMLElement, range: Range): Stretch | undefined {
  let found: Stretch | undefined
  for (const piece of piecesOf(root)) {
    if (!range.intersectsNode(piece)) continue
    const part = document.createRange()
    part.selectNodeContents(piece)
    const before = part.cloneRange()
    if (range.compareBoundaryPoints(Range.START_TO_START, part) > 0)
      part.setStart(range.startContainer, range.startOffset)
    if (range.compareBoundaryPoints(Range.END_TO_END, part) < 0) part.setEnd(range.endContainer, range.endOffset)
    const words = part.toString()
    if (!words) continue
    before.setEnd(part.startContainer, part.startOffset)
    const at = beginOf(piece) + lettersOf(before.toString()).length
    found = { from: found?.from ?? at, to: at + lettersOf(words).length }
  }
  return found
}

/** Selects a part of the text on the screen. */
function selectIn(root: HTMLElement, { from, to }: Stretch) {
  const place = (at: number, ends: boolean): [Node, number] | undefined => {
    for (const piece of piecesOf(root)) {
      const letters = lettersOf(piece.textContent)
      const within = at - beginOf(piece)
      const inside = ends ? within > 0 && within <= letters.length : within >= 0 && within < letters.length
      if (inside && piece.firstChild) return [piece.firstChild, letters.slice(0, within).join('').length]
    }
    return undefined
  }
  const [start, end] = [place(from, false), place(to, true)]
  if (!start || !end) return
  document.getSelection()?.setBaseAndExtent(...start, ...end)
  start[0].parentElement?.scrollIntoView({ block: 'nearest' })
}

/** Where the words of a text begin and end. */
function wordsOf(text: string): Stretch[] {
  const words: Stretch[] = []
  let at = 0
  for (const { segment, isWordLike } of new Intl.Segmenter(undefined, { granularity: 'word' }).segment(text)) {
    const to = at + lettersOf(segment).length
    if (isWordLike) words.push({ from: at, to })
    at = to
  }
  return words
}

/**
 * Words of a text that somebody chooses, with the mouse or with the keyboard alone: arrows go from word to word, with Shift
 * they take more, Escape lets go.
 */
export function useChosenWords(root: Ref<HTMLElement | undefined>, text: () => string) {
  const chosen = ref<Stretch>()
  let words: Stretch[] = []
  let anchor = 0
  let head = 0

  function onSelection() {
    const selection = document.getSelection()
    if (!root.value || !selection?.rangeCount || !root.value.contains(selection.anchorNode)) return
    chosen.value = selection.isCollapsed ? undefined : selectedIn(root.value, selection.getRangeAt(0))
  }
  onMounted(() => document.addEventListener('selectionchange', onSelection))
  onUnmounted(() => document.removeEventListener('selectionchange', onSelection))

  function clear() {
    chosen.value = undefined
    document.getSelection()?.removeAllRanges()
  }

  /** Left and right go to the next word, up and down about a line further. */
  function onKey(event: KeyboardEvent) {
    if (event.key === 'Escape' && chosen.value) {
      event.stopPropagation()
      clear()
      return
    }
    const step = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: LINE, ArrowUp: -LINE }[event.key]
    if (step === undefined || !root.value) return
    event.preventDefault()
    if (!chosen.value) {
      words = wordsOf(text())
      anchor = head = step > 0 ? -1 : words.length
    }
    head = Math.max(
      0,
      Math.min(words.length - 1, head + (Math.abs(head + step) < words.length ? step : Math.sign(step))),
    )
    if (!event.shiftKey || anchor < 0 || anchor >= words.length) anchor = head
    const [first, last] = [words[Math.min(anchor, head)], words[Math.max(anchor, head)]]
    if (first && last) selectIn(root.value, { from: first.from, to: last.to })
  }

  return { chosen, clear, onKey }
}
