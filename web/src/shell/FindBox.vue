<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ApiProblem, value } from '@/api/client'
import { showProblem } from '@/api/save'
import { placeOf, useSelection } from '@/shared/selection'

/** Finds a thing by its reference, or feedback by its words. */
const { product } = useSelection()
const router = useRouter()
const text = ref('')
const field = ref<HTMLInputElement>()

defineExpose({ focus: () => field.value?.focus() })

async function find() {
  const words = text.value.trim()
  if (!words) return
  if (/^[a-z]\d+$/i.test(words)) {
    try {
      const { of } = await value(api.GET('/api/v1/references/{reference}', { params: { path: { reference: words } } }))
      text.value = ''
      field.value?.blur()
      return await router.push(placeOf(of.thing, of.product_id ?? product.value))
    } catch (error) {
      if (error instanceof ApiProblem) return showProblem(error.body)
      throw error
    }
  }
  await router.push({ name: 'feedback', params: { product: product.value }, query: { words } })
}
</script>

<template>
  <form class="find" role="search" @submit.prevent="find">
    <label>
      <span class="visually-hidden">Find a reference or words in the feedback</span>
      <input ref="field" v-model="text" type="text" placeholder="/ find" @keydown.esc="field?.blur()" />
    </label>
  </form>
</template>

<style scoped>
input {
  background: var(--paper);
  border: 1px solid var(--rule);
  border-radius: 4px;
  color: var(--ink);
  font-size: 13.5px;
  min-height: 26px;
  padding: 1px 7px;
  transition: width 0.15s;
  width: 66px;
}
input:focus {
  border-color: var(--ink);
  outline: 1px solid var(--ink);
  width: 150px;
}
input::placeholder {
  color: var(--quiet);
  opacity: 1;
}
</style>
