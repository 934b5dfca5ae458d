<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import { useQuery } from '@pinia/colada'
import { useRouter } from 'vue-router'
import { api, ApiProblem, value } from '@/api/client'
import { useAttempt } from '@/api/attempt'
import { useMe } from '@/api/queries'
import { line } from '@/api/save'
import { moment } from '@/shared/words'
import OwnTokens from './OwnTokens.vue'

/** My password, where I am signed in, the programs that ask for me, and leaving. */
const { data: me } = useMe()
const router = useRouter()
const attempt = useAttempt()
const owner = computed(() => me.value?.role === 'owner')
const form = reactive({ present: '', password: '' })
const problem = ref('')
const { data: members } = useQuery({
  key: ['members'],
  query: () => value(api.GET('/api/v1/members')),
  enabled: owner,
})
/** A workspace needs an owner. */
const mayLeave = computed(
  () => !owner.value || (members.value ?? []).filter((one) => one.role === 'owner' && !one.closed).length > 1,
)
const { data: sessions, refetch } = useQuery({
  key: ['my-sessions'],
  query: () => value(api.GET('/api/v1/me/sessions')),
})

async function change() {
  problem.value = ''
  try {
    await value(api.PUT('/api/v1/me/password', { body: form }))
    Object.assign(form, { present: '', password: '' })
    const label = 'your password was changed; elsewhere you are signed out; your calendar links and tokens have ended'
    Object.assign(line, { saved: { label }, problem: undefined, at: Date.now() })
    await refetch()
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    problem.value = error.body.detail
  }
}

async function end(session: string, here: boolean) {
  await attempt(() => value(api.DELETE('/api/v1/me/sessions/{session}', { params: { path: { session } } })))
  if (here) await router.push({ name: 'sign-in' })
  else await refetch()
}

const meant = ref('')
async function leave() {
  const gone = await attempt(async () => {
    await value(api.DELETE('/api/v1/me'))
    return true
  })
  if (gone) await router.push({ name: 'sign-in' })
}
</script>

<template>
  <div class="account" data-work>
    <section aria-labelledby="sessions">
      <h1 id="sessions">Where you are signed in</h1>
      <ul>
        <li v-for="one in sessions" :key="one.id">
          <div>
            {{ one.browser ?? 'another program' }} <b v-if="one.this">(here)</b>
            <div class="small quiet">
              <template v-if="one.began_at">since {{ moment(one.began_at) }}</template>
              <template v-if="one.seen_at">, used last {{ moment(one.seen_at) }}</template>
            </div>
          </div>
          <button type="button" class="btn btn-outline spacer" @click="end(one.id, one.this)">
            {{ one.this ? 'Sign out' : 'End' }}
          </button>
        </li>
      </ul>
      <p class="small quiet">A session ends after twelve hours without use, and after seven days.</p>
    </section>
    <section aria-labelledby="password">
      <h2 id="password">Your password</h2>
      <form @submit.prevent="change">
        <label for="present">The present one</label>
        <input
          id="present"
          v-model="form.present"
          class="form-control"
          type="password"
          autocomplete="current-password"
          required
        />
        <label for="new">The new one, of at least twelve characters</label>
        <input
          id="new"
          v-model="form.password"
          class="form-control"
          type="password"
          minlength="12"
          autocomplete="new-password"
          required
        />
        <p v-if="problem" role="alert">{{ problem }}</p>
        <button type="submit" class="btn btn-outline">Change it</button>
      </form>
      <p v-if="!mayLeave" class="small quiet">
        You are the only owner: before you leave, <RouterLink :to="{ name: 'workspace' }">somebody else</RouterLink> has
        to be one.
      </p>
      <details v-else>
        <summary>Leave this workspace</summary>
        <p class="small">
          Your account is closed: nobody signs in to it any more, and what you did stays under your name. An owner can
          open it again. Write your name to say that you mean it.
        </p>
        <form class="row-flex" @submit.prevent="leave">
          <label><span class="visually-hidden">Your name</span><input v-model="meant" class="form-control" /></label>
          <button type="submit" class="btn btn-outline" :disabled="meant.trim() !== me?.name">Leave</button>
        </form>
      </details>
    </section>
    <OwnTokens v-if="me" :role="me.role" />
  </div>
</template>

<style scoped>
.account {
  align-content: start;
  display: grid;
  gap: 26px 40px;
  grid-template-columns: minmax(0, 3fr) minmax(260px, 2fr);
  overflow: auto;
  padding: 20px 24px 56px;
}
h1 {
  font-size: 22px;
  margin: 0 0 8px;
}
.account :deep(h2) {
  font-size: 16px;
  margin: 0 0 6px;
}
.account :deep(ul) {
  list-style: none;
  margin: 0;
  padding: 0;
}
.account :deep(li) {
  align-items: start;
  border-bottom: 1px solid var(--rule);
  display: flex;
  gap: 12px;
  overflow-wrap: anywhere;
  padding: 8px 0;
}
form {
  display: grid;
  gap: 6px;
  justify-items: start;
  max-width: 360px;
}
.form-control {
  width: 100%;
}
details,
form + p {
  margin-top: 16px;
}
.btn {
  flex: none;
  white-space: nowrap;
}
@media (max-width: 800px) {
  .account {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
