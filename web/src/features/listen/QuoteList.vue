<script setup lang="ts">
import { computed } from 'vue'
import { api, value } from '@/api/client'
import type { RowView } from '@/api/collections'
import { useSave } from '@/api/save'
import { thingIn } from '@/shared/tabs'
import { useCollection } from '../collections/context'
import { links } from '../collections/text'

/** What people said that an idea, a document or a page quotes; each can be taken away again. */
const props = defineProps<{ row: RowView }>()
const { collection } = useCollection()
const { save } = useSave()
const quotes = computed(() => links(props.row.values.quotes))

function takeAway(excerpt: number) {
  const from = { kind: 'excerpt' as const, id: excerpt }
  const body = { kind: 'supports' as const, from, to: { kind: collection.value, id: props.row.id } }
  return save(value(api.POST('/api/v1/links/remove', { body })))
}
</script>

<template>
  <section v-if="quotes.length" data-quotes>
    <h3>Quoted here</h3>
    <ul class="stacked">
      <li v-for="one in quotes" :key="one.id" class="row-flex">
        <RouterLink class="grow" dir="auto" :to="thingIn('excerpt', one.id)">{{ one.label }}</RouterLink>
        <button type="button" class="btn btn-plain" :aria-label="`Take away: ${one.label}`" @click="takeAway(one.id)">
          take away
        </button>
      </li>
    </ul>
    <p v-if="collection !== 'idea'" class="small quiet">
      Taken away, it no longer stands behind this; its words stay in the text until you delete them there.
    </p>
  </section>
  <p v-else-if="collection !== 'idea'" class="small quiet">
    Nothing is quoted here yet. Choose excerpts where you read feedback, and press “Quote in …”.
  </p>
</template>

<style scoped>
h3 {
  font-size: 15px;
  margin: 10px 0 6px;
}
.grow {
  flex: 1;
}
p {
  margin: 6px 0;
}
</style>
