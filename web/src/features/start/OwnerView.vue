<script setup lang="ts">
import { reactive, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ApiProblem, value } from '@/api/client'
import StartFrame from './StartFrame.vue'

/** The first start: the owner, what is managed, and who builds it. */
const router = useRouter()
const form = reactive({ code: '', name: '', email: '', password: '', product: '', team: '' })
const problem = ref('')

async function begin() {
  problem.value = ''
  try {
    await value(api.POST('/api/v1/start', { body: form }))
    await value(api.POST('/api/v1/session', { body: { email: form.email, password: form.password } }))
    await router.replace('/')
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    problem.value = `${error.body.title}. ${error.body.detail}`
  }
}
</script>

<template>
  <StartFrame title="Begin a workspace">
    <p class="quiet">Nobody can sign in yet. Whoever fills this in owns the workspace and can add others.</p>
    <form @submit.prevent="begin">
      <label for="code">The code that the server showed when it was started</label>
      <BFormInput id="code" v-model="form.code" autocomplete="off" spellcheck="false" required />
      <label for="name">Your name</label>
      <BFormInput id="name" v-model="form.name" autocomplete="name" required />
      <label for="email">Your address</label>
      <BFormInput id="email" v-model="form.email" type="email" autocomplete="username" required />
      <label for="password">A password of at least twelve characters</label>
      <BFormInput
        id="password"
        v-model="form.password"
        type="password"
        minlength="12"
        autocomplete="new-password"
        required
      />
      <label for="product">What do you manage?</label>
      <BFormInput id="product" v-model="form.product" placeholder="the product's name" required />
      <label for="team">Who builds it?</label>
      <BFormInput id="team" v-model="form.team" placeholder="the team's name" required />
      <p v-if="problem" role="alert" class="problem">{{ problem }}</p>
      <button type="submit" class="btn btn-primary">Begin</button>
    </form>
  </StartFrame>
</template>
