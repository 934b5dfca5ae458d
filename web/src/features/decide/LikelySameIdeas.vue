<script setup lang="ts">
import { computed } from 'vue'
import { api, value } from '@/api/client'
import { useLikelySameIdeas } from '@/api/queries'
import { useSave } from '@/api/save'
import { useSelection } from '@/shared/selection'
import { thingIn } from '@/shared/tabs'
import { percent } from '@/shared/words'

/** Other ideas that may be the same as this one: suggested from what they mean, and for somebody to say. */
const props = defineProps<{ id: number }>()
const { product, select } = useSelection()
const { save } = useSave()
const { data: pairs } = useLikelySameIdeas(product)
const others = computed(() =>
  (pairs.value ?? []).flatMap((pair) => {
    if (pair.one === props.id) return [{ id: pair.other, title: pair.other_title, alike: pair.alike }]
    if (pair.other === props.id) return [{ id: pair.one, title: pair.one_title, alike: pair.alike }]
    return []
  }),
)

async function merge(keep: number, other: number) {
  const body = { keep, others: [other] }
  if (await save(value(api.POST('/api/v1/decide/ideas/merge', { body })))) select('idea', keep)
}
const two = (other: number) => {
  const [from, to] = [props.id, other].map((id) => ({ kind: 'idea' as const, id }))
  if (!from || !to) return undefined
  return save(value(api.POST('/api/v1/links', { body: { kind: 'not_same', from, to } })))
}
</script>

<template>
  <section v-if="others.length" class="guessed" aria-label="May be the same" data-likely>
    <ul>
      <li v-for="one in others" :key="one.id" class="row-flex">
        <span
          >May be the same as
          <RouterLink class="thing" :to="thingIn('idea', one.id)">I{{ one.id }} {{ one.title }}</RouterLink>
          <span class="small quiet"> suggested from what they mean, {{ percent(one.alike) }} alike</span></span
        >
        <button type="button" class="btn btn-outline" @click="merge(id, one.id)">Merge it into this one</button>
        <button type="button" class="btn btn-outline" @click="merge(one.id, id)">
          Merge this one into I{{ one.id }}
        </button>
        <button type="button" class="btn btn-plain" @click="two(one.id)">They are two</button>
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  flex-wrap: wrap;
}
</style>
