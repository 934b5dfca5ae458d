<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useQueryCache } from '@pinia/colada'
import { api, ApiProblem, value, type Schemas } from '@/api/client'
import StartFrame from './StartFrame.vue'

const route = useRoute()
const router = useRouter()
const cache = useQueryCache()
const email = ref('')
const password = ref('')
const problem = ref('')
const busy = ref(false)
const demo = ref<Schemas['DemoPeople'] | null>()

onMounted(async () => {
  const start = await value(api.GET('/api/v1/start'))
  if (start.needs_owner) return router.replace({ name: 'start' })
  demo.value = start.demo
})

async function signIn() {
  busy.value = true
  problem.value = ''
  try {
    await value(api.POST('/api/v1/session', { body: { email: email.value, password: password.value } }))
    await cache.invalidateQueries()
    const back = String(route.query.back ?? '/')
    await router.replace(back.startsWith('/') && !back.startsWith('//') ? back : '/')
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    problem.value = `${error.body.title}. ${error.body.detail}`
  } finally {
    busy.value = false
  }
}

function as(person: Schemas['DemoPerson']) {
  email.value = person.email
  password.value = demo.value?.password ?? ''
  void signIn()
}
</script>

<template>
  <StartFrame title="Sign in">
    <form @submit.prevent="signIn">
      <label for="email">Address</label>
      <BFormInput id="email" v-model="email" type="email" autocomplete="username" required />
      <label for="password">Password</label>
      <BFormInput id="password" v-model="password" type="password" autocomplete="current-password" required />
      <p v-if="problem" role="alert" class="problem">{{ problem }}</p>
      <button type="submit" class="btn btn-primary" :disabled="busy">Sign in</button>
    </form>
    <section v-if="demo" class="guessed">
      <b>This is the demo.</b> <span class="quiet">Everybody here is made up. Look around as</span>
      <ul>
        <li v-for="person in demo.people" :key="person.email">
          <button type="button" class="btn btn-outline" :disabled="busy" @click="as(person)">
            {{ person.name }}, {{ person.role }}
          </button>
        </li>
      </ul>
    </section>
  </StartFrame>
</template>

<style scoped>
section {
  margin-top: 24px;
}
ul {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  list-style: none;
  margin: 8px 0 0;
  padding: 0;
}
</style>
