<script setup lang="ts">
import { computed } from 'vue'
import { useItem } from '@/api/queries'
import { day, figure } from '@/shared/words'
import ExcerptLine from './ExcerptLine.vue'

/** One item: all its words with the excerpts marked, and the excerpts to choose from. */
const props = defineProps<{ id: number; at?: number }>()
const chosen = defineModel<number[]>({ required: true })
const { data: item } = useItem(() => props.id)

/** The text cut where excerpts begin and end. Positions count characters as the server does, not UTF-16 units. */
const pieces = computed(() => {
  if (!item.value) return []
  const letters = Array.from(item.value.text)
  const cut = (from: number, to: number) => letters.slice(from, to).join('')
  const found: { text: string; excerpt?: number }[] = []
  let at = 0
  for (const part of item.value.parts) {
    if (part.from_char > at) found.push({ text: cut(at, part.from_char) })
    found.push({ text: cut(part.from_char, part.to_char), excerpt: part.id })
    at = part.to_char
  }
  if (at < letters.length) found.push({ text: cut(at, letters.length) })
  return found
})

const beside = computed(() => Object.entries(JSON.parse(item.value?.extra ?? '{}') as Record<string, string>))
const said = computed(() => {
  const it = item.value
  if (!it) return ''
  const rating = it.rating == null ? undefined : `rated ${figure(it.rating)}`
  return [it.person ?? 'nameless', it.account, day(it.said_on) || 'no day', it.source, rating]
    .filter(Boolean)
    .join(' · ')
})

function choose(id: number, on: boolean) {
  chosen.value = on ? [...chosen.value, id] : chosen.value.filter((one) => one !== id)
}
</script>

<template>
  <article v-if="item" class="item">
    <h2 class="small quiet">F{{ item.id }} · {{ said }}</h2>
    <p class="text" dir="auto">
      <template v-for="(piece, n) in pieces" :key="n"
        ><mark v-if="piece.excerpt" :class="{ chosen: chosen.includes(piece.excerpt) || piece.excerpt === at }">{{
          piece.text
        }}</mark
        ><template v-else>{{ piece.text }}</template></template
      >
    </p>
    <h3>What it says</h3>
    <ul>
      <ExcerptLine
        v-for="part in item.parts"
        :key="part.id"
        :excerpt="part"
        :chosen="chosen.includes(part.id)"
        @choose="choose(part.id, $event)"
      />
    </ul>
    <p v-if="item.parts.length === 0" class="quiet">There are no words in it.</p>
    <p class="small quiet">Kinds and sentiments are read by rules and can be wrong; change a kind where it is.</p>
    <dl v-if="beside.length" class="small quiet">
      <template v-for="[name, text] in beside" :key="name">
        <dt>{{ name }}</dt>
        <dd>{{ text }}</dd>
      </template>
    </dl>
  </article>
</template>

<style scoped>
.item {
  padding: 2px 0 8px;
}
h2 {
  font-family: inherit;
  font-weight: 400;
}
h3 {
  font-size: 15px;
  margin: 16px 0 8px;
}
.text {
  font-size: 17px;
  max-width: 65ch;
  overflow-wrap: anywhere;
  white-space: pre-wrap;
}
mark {
  background: transparent;
  border-bottom: 2px solid var(--rule);
  color: inherit;
  padding: 0;
}
mark.chosen {
  border-color: var(--ink);
}
ul {
  display: grid;
  gap: 8px;
  list-style: none;
  margin: 0 0 12px;
  padding: 0;
}
dl {
  display: grid;
  gap: 2px 10px;
  grid-template-columns: auto 1fr;
}
dd {
  margin: 0;
}
</style>
