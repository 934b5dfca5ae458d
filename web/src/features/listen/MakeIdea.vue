<script setup lang="ts">
import { useRouter } from 'vue-router'
import { api, value } from '@/api/client'
import { useSave } from '@/api/save'
import { useSelection } from '@/shared/selection'
import { thingIn } from '@/shared/tabs'

/** Makes an idea that stands on a finding, and goes there. */
const props = defineProps<{ id: number; title: string }>()
const { product } = useSelection()
const router = useRouter()
const { save } = useSave()

async function make() {
  const body = { product_id: product.value, title: props.title, finding_id: props.id }
  const saved = await save(value(api.POST('/api/v1/decide/ideas', { body })))
  if (saved?.thing) await router.push(thingIn('idea', saved.thing.id, 'ranking'))
}
</script>

<template>
  <button type="button" class="btn btn-primary" aria-keyshortcuts="Alt+I" @click="make">Make an idea of it</button>
</template>
