import { computed, reactive, toValue, type MaybeRefOrGetter } from 'vue'

/** Words that were begun somewhere and not sent yet, by their place. They last as long as the window. */
const begun = reactive(new Map<string, string>())

/**
 * The words of a line that adds something. They stay when somebody goes elsewhere and comes back. `send` empties the line at
 * once, so that the next words can be typed while these are on their way, and gives them back where they could not be added.
 */
export function useDraft(place: MaybeRefOrGetter<string>) {
  const words = computed({
    get: () => begun.get(toValue(place)) ?? '',
    set: (text) => (text ? begun.set(toValue(place), text) : begun.delete(toValue(place))),
  })

  async function send(add: (words: string) => Promise<unknown>) {
    const here = toValue(place)
    const sent = words.value
    begun.delete(here)
    const done = await add(sent)
    if (!done) begun.set(here, [sent, begun.get(here)].filter(Boolean).join(' '))
    return done
  }

  return { words, send }
}
