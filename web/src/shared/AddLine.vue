<script setup lang="ts">
import { useRoute } from 'vue-router'
import { useDraft } from './draft'

/** One line that adds something by its name. `add` says whether it was added; then the line is empty again. */
const props = defineProps<{
  name: string
  placeholder: string
  action: string
  add: (text: string) => Promise<unknown>
}>()
const route = useRoute()
const { words, send } = useDraft(() => `${route.params.product ?? ''} ${props.name}`)
</script>

<template>
  <form class="row-flex" @submit.prevent="send(add)">
    <input v-model="words" class="form-control" :aria-label="name" :placeholder="placeholder" required />
    <button type="submit" class="btn btn-outline">{{ action }}</button>
  </form>
</template>

<style scoped>
.form-control {
  width: 250px;
}
</style>
