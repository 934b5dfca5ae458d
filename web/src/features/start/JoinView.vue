<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { useQueryCache } from '@pinia/colada'
import { api, ApiProblem, value, type Schemas } from '@/api/client'
import StartFrame from './StartFrame.vue'

/** Where a link leads that works once: whom it is for, and the password that they set. */
const router = useRouter()
const cache = useQueryCache()
const who = ref<Schemas['Invited']>()
const password = ref('')
const problem = ref('')
const busy = ref(false)
/** Behind the `#`, so that it is in no address that a server sees. */
const key = window.location.hash.slice(1)

async function told(act: () => Promise<unknown>) {
  problem.value = ''
  busy.value = true
  try {
    await act()
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    problem.value = error.body.detail
  } finally {
    busy.value = false
  }
}

onMounted(() =>
  told(async () => {
    who.value = await value(api.POST('/api/v1/joining/look', { body: { key } }))
  }),
)

const join = () =>
  told(async () => {
    await value(api.POST('/api/v1/joining', { body: { key, password: password.value } }))
    const body = { email: who.value?.email ?? '', password: password.value }
    await value(api.POST('/api/v1/session', { body }))
    await cache.invalidateQueries()
    await router.replace('/')
  })
</script>

<template>
  <StartFrame :title="who ? `Welcome, ${who.name}` : 'Welcome'">
    <form v-if="who" @submit.prevent="join">
      <p>You sign in as {{ who.email }}. Set your password: nobody else knows it, and this link works once.</p>
      <input type="hidden" autocomplete="username" :value="who.email" />
      <label for="password">Password, of at least twelve characters</label>
      <BFormInput
        id="password"
        v-model="password"
        type="password"
        autocomplete="new-password"
        minlength="12"
        required
      />
      <p v-if="problem" role="alert" class="problem">{{ problem }}</p>
      <button type="submit" class="btn btn-primary" :disabled="busy">Set it and sign in</button>
    </form>
    <p v-else-if="problem" role="alert" class="problem">{{ problem }}</p>
  </StartFrame>
</template>
