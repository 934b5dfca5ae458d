/**
 * Keys of what stands on the screen: whatever says of itself `aria-keyshortcuts="Alt+A"` is pressed by that key, and what is
 * typed in gets the focus. The page says which keys there are, so none is kept anywhere else.
 */
const there = () =>
  [...document.querySelectorAll<HTMLElement>('[aria-keyshortcuts]')].filter(
    (one) => one.checkVisibility() && !one.matches(':disabled'),
  )

/** The letter that was pressed with Alt, on whatever keyboard: where Alt makes another sign of it, by its place. */
function letterOf(event: KeyboardEvent): string | undefined {
  if (!event.altKey || event.ctrlKey || event.metaKey || event.shiftKey) return undefined
  if (/^[a-z]$/i.test(event.key)) return event.key.toUpperCase()
  return /^Key([A-Z])$/.exec(event.code)?.[1]
}

export function pressShortcut(event: KeyboardEvent) {
  // Alt is how other letters are typed on many keyboards.
  if ((event.target as HTMLElement).closest('input:not([type=checkbox], [type=radio]), textarea, select')) return
  const letter = letterOf(event)
  const found = letter && there().find((one) => one.getAttribute('aria-keyshortcuts') === `Alt+${letter}`)
  if (!found || document.querySelector('.modal.show')) return
  event.preventDefault()
  if (found.matches('input, textarea, select')) found.focus()
  else found.click()
}

/** The keys that there are now, and what each does. */
export const shortcuts = (): [string, string][] =>
  there().map((one) => {
    const name = one.getAttribute('aria-label') ?? one.innerText.trim()
    const typed = one.matches('input, textarea, select')
    return [(one.getAttribute('aria-keyshortcuts') ?? '').replace('+', ' + '), typed ? `change “${name}”` : name]
  })
