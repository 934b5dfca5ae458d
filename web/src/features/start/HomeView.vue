<script setup lang="ts">
import { onMounted } from 'vue'
import { useRouter } from 'vue-router'
import { api, ApiProblem, value } from '@/api/client'

/** Finds out where to begin: the first owner, what there is to begin with, the sign-in, or the first product. */
const router = useRouter()
onMounted(async () => {
  try {
    const products = await value(api.GET('/api/v1/products'))
    await router.replace(products[0] ? `/p/${products[0].id}` : { name: 'start' })
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    const start = await value(api.GET('/api/v1/start'))
    await router.replace({ name: start.needs_owner ? 'start' : 'sign-in' })
  }
})
</script>

<template>
  <p class="visually-hidden" role="status">Opening …</p>
</template>
