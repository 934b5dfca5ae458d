<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, ApiProblem, value, type Schemas } from '@/api/client'
import OpenFrame from './OpenFrame.vue'

/** The question of a letter: whether its reader sent a request. Only pressing the button answers it, as programs look at links, too. */
const route = useRoute()
const asked = ref<Schemas['WasItYou']>()
const problem = ref('')
const params = { path: { key: String(route.params.key) } }

async function tell(answer: () => Promise<Schemas['WasItYou']>) {
  try {
    asked.value = await answer()
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    problem.value = error.code === 'not-found' ? 'There is no question at this address.' : error.message
  }
}
onMounted(() => tell(() => value(api.GET('/api/v1/open/senders/{key}', { params }))))
const answer = () => tell(() => value(api.POST('/api/v1/open/senders/{key}', { params })))
</script>

<template>
  <OpenFrame v-if="problem" title="Nothing here">
    <p role="alert">{{ problem }} Look whether the whole link is there.</p>
  </OpenFrame>
  <OpenFrame v-else-if="asked?.proved" title="Thank you" :product="asked.product">
    <p role="status" data-proved>We know now that this address is yours.</p>
  </OpenFrame>
  <OpenFrame v-else-if="asked" title="Was it you?" :product="asked.product">
    <p>Somebody gave your address when they filled in a form about {{ asked.product }}.</p>
    <button type="button" class="btn btn-primary" @click="answer">It was me</button>
    <p class="quiet">If it was not, close this page. Nothing is counted as yours then.</p>
  </OpenFrame>
</template>

<style scoped>
.btn {
  margin: 6px 0 14px;
  min-height: 44px;
}
</style>
