<script setup lang="ts">
import { ref } from 'vue'

/** One line that adds something by its name. `add` says whether it was added; then the line is empty again. */
const props = defineProps<{
  name: string
  placeholder: string
  action: string
  add: (text: string) => Promise<unknown>
}>()
const text = ref('')

async function send() {
  if (await props.add(text.value)) text.value = ''
}
</script>

<template>
  <form class="row-flex" @submit.prevent="send">
    <input v-model="text" class="form-control" :aria-label="name" :placeholder="placeholder" required />
    <button type="submit" class="btn btn-outline">{{ action }}</button>
  </form>
</template>

<style scoped>
.form-control {
  width: 250px;
}
</style>
