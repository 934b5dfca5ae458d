<script setup lang="ts">
import { onMounted, reactive, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ApiProblem, value, type Schemas } from '@/api/client'
import { putWhole } from '@/api/files'
import StartFrame from './StartFrame.vue'

/** The first start: the owner, and what the workspace begins with, a product and who builds it or all that another held. */
const router = useRouter()
const owner = reactive({ code: '', name: '', email: '', password: '' })
const begins = reactive({ product: '', team: '' })
const ways = { new: 'a product and a team', file: 'all that another workspace held, from its file' }
const from = ref<keyof typeof ways>('new')
const file = ref<File>()
/** Who is signed in, nobody where nobody can; nothing while that is not known. */
const me = ref<Schemas['Actor'] | null>()
const busy = ref(false)
const problem = ref('')

onMounted(async () => {
  const known = await value(api.GET('/api/v1/me')).catch(() => null)
  // What has begun is not begun again.
  const begun = known
    ? (await value(api.GET('/api/v1/products'))).length > 0
    : !(await value(api.GET('/api/v1/start'))).needs_owner
  if (begun) await router.replace('/')
  else me.value = known
})

/** Each step that is done stays done: where the file does not fit, another is chosen, or a product named. */
async function begin() {
  if (!me.value) {
    const first = from.value === 'new' ? begins : {}
    await value(api.POST('/api/v1/start', { body: { ...owner, ...first } }))
    me.value = await value(api.POST('/api/v1/session', { body: { email: owner.email, password: owner.password } }))
  } else if (from.value === 'new') {
    await value(api.POST('/api/v1/start/product', { body: begins }))
  }
  if (from.value === 'file' && file.value) await putWhole(file.value)
  await router.replace('/')
}

async function send() {
  problem.value = ''
  busy.value = true
  try {
    await begin()
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    problem.value = `${error.body.title}. ${error.body.detail}`
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <StartFrame title="Begin a workspace">
    <p v-if="me && me.role !== 'owner'">Nothing is in this workspace yet. Whoever owns it begins it.</p>
    <form v-else-if="me !== undefined" @submit.prevent="send">
      <template v-if="!me">
        <p class="quiet">Nobody can sign in yet. Whoever fills this in owns the workspace and can add others.</p>
        <label for="code">The code that the server showed when it was started</label>
        <BFormInput id="code" v-model="owner.code" autocomplete="off" spellcheck="false" required />
        <label for="name">Your name</label>
        <BFormInput id="name" v-model="owner.name" autocomplete="name" required />
        <label for="email">Your address</label>
        <BFormInput id="email" v-model="owner.email" type="email" autocomplete="username" required />
        <label for="password">A password of at least twelve characters</label>
        <BFormInput
          id="password"
          v-model="owner.password"
          type="password"
          minlength="12"
          autocomplete="new-password"
          required
        />
      </template>
      <p v-else class="quiet">You own this workspace, and nothing is in it yet.</p>
      <fieldset>
        <legend>What does it begin with?</legend>
        <label v-for="(words, way) in ways" :key="way">
          <input v-model="from" type="radio" name="from" :value="way" /> {{ words }}
        </label>
      </fieldset>
      <template v-if="from === 'new'">
        <label for="product">What do you manage?</label>
        <BFormInput id="product" v-model="begins.product" placeholder="the product's name" required />
        <label for="team">Who builds it?</label>
        <BFormInput id="team" v-model="begins.team" placeholder="the team's name" required />
      </template>
      <template v-else>
        <label for="whole">The file, as an owner took it out of the other workspace</label>
        <input
          id="whole"
          type="file"
          class="form-control"
          accept=".json,application/json"
          required
          @change="file = ($event.target as HTMLInputElement).files?.[0]"
        />
        <p class="quiet">People come along without their passwords; whoever has your address there is you.</p>
      </template>
      <p v-if="problem" role="alert" class="problem">{{ problem }}</p>
      <button type="submit" class="btn btn-primary" :disabled="busy">{{ busy ? 'Working …' : 'Begin' }}</button>
    </form>
  </StartFrame>
</template>

<style scoped>
fieldset {
  margin: 8px 0;
}
legend {
  font-size: inherit;
  font-weight: 600;
  margin-bottom: 2px;
}
fieldset label {
  display: block;
  font-weight: 400;
  margin: 0;
}
</style>
