<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, ApiProblem, value, type Schemas } from '@/api/client'
import KiteMark from '@/shared/KiteMark.vue'
import { day } from '@/shared/words'
import OpenFrame from './OpenFrame.vue'

/** What became of a request, for whoever has its private link. */
const route = useRoute()
const sent = ref<Schemas['SentView']>()
const problem = ref('')
const SAYS: Record<Schemas['RequestState'], string> = {
  received: 'We have it, and have not thought about it yet.',
  weighed: 'We are thinking about it.',
  planned: 'We are going to do it.',
  done: 'It is done.',
  declined: 'We are not going to do it for now.',
}
const WAY = ['received', 'weighed', 'planned', 'done'] as const
const NAMES: Record<Schemas['RequestState'], string> = {
  received: 'received',
  weighed: 'thought about',
  planned: 'planned',
  done: 'done',
  declined: 'not for now',
}
const at = computed(() => WAY.findIndex((one) => one === sent.value?.became))

onMounted(async () => {
  try {
    const params = { path: { key: String(route.params.key) } }
    sent.value = await value(api.GET('/api/v1/open/requests/{key}', { params }))
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    problem.value = error.code === 'not-found' ? 'There is no request at this address.' : error.message
  }
})
</script>

<template>
  <OpenFrame v-if="sent" title="What became of your request" :product="sent.product">
    <p class="says" data-became>{{ SAYS[sent.became] }}</p>
    <ol v-if="at >= 0" aria-label="The way of a request">
      <li v-for="(one, n) in WAY" :key="one" :aria-current="n === at ? 'step' : undefined">
        <KiteMark :state="n <= at ? 'done' : 'raw'" plain /> {{ NAMES[one] }}
      </li>
    </ol>
    <section v-if="sent.reply">
      <h2>Our answer</h2>
      <p class="words" data-reply>{{ sent.reply }}</p>
    </section>
    <section>
      <h2>What you wrote on {{ day(sent.came_on) }}</h2>
      <p class="words">{{ sent.words }}</p>
    </section>
  </OpenFrame>
  <OpenFrame v-else-if="problem" title="Nothing here">
    <p role="alert">{{ problem }} Look whether the whole link is there.</p>
  </OpenFrame>
</template>

<style scoped>
.says {
  font-size: 19px;
}
ol {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 18px;
  list-style: none;
  margin: 0 0 18px;
  padding: 0;
}
[aria-current] {
  font-weight: 650;
}
h2 {
  font-size: 17px;
  margin: 18px 0 4px;
}
.words {
  overflow-wrap: anywhere;
  white-space: pre-line;
}
</style>
