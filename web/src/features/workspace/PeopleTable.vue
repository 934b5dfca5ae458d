<script setup lang="ts">
import { reactive, ref } from 'vue'
import { useQuery } from '@pinia/colada'
import { api, value, type Schemas } from '@/api/client'
import { useAttempt } from '@/api/attempt'
import { moment } from '@/shared/words'
import OnceLink from './OnceLink.vue'

/** Everybody of the workspace, what each may do, and who is to join. */
defineProps<{ me: string }>()
const attempt = useAttempt()
const members = useQuery({ key: ['members'], query: () => value(api.GET('/api/v1/members')) })
const ROLES = {
  viewer: 'reads',
  contributor: 'brings in what people said, and suggests',
  editor: 'changes anything along the line',
  owner: 'also manages the workspace',
} as const
type Role = keyof typeof ROLES
const blank = { email: '', name: '', role: 'contributor' as Role }
const form = reactive({ ...blank })
const shown = ref<{ link: Schemas['OnceLink']; to: string }>()

async function then<T>(act: () => Promise<T>): Promise<T | undefined> {
  const done = await attempt(act)
  await members.refetch()
  return done
}

async function invite() {
  const link = await then(() => value(api.POST('/api/v1/members', { body: { ...form } })))
  if (!link) return
  shown.value = { link, to: form.email }
  Object.assign(form, blank)
}

async function linkFor(email: string) {
  const link = await then(() => value(api.POST('/api/v1/members/link', { body: { email } })))
  if (link) shown.value = { link, to: email }
}

const close = (email: string, closed: boolean) =>
  then(() => value(api.PUT('/api/v1/members/closed', { body: { email, closed } })))
const setRole = (email: string, role: string) =>
  then(() => value(api.PUT('/api/v1/members/role', { body: { email, role: role as Role } })))

function standing(one: Schemas['Member']) {
  if (one.closed) return 'closed'
  if (one.joined) return one.link_ends_at ? `a link for a new password waits until ${moment(one.link_ends_at)}` : ''
  return one.link_ends_at ? `invited; the link works until ${moment(one.link_ends_at)}` : 'invited; the link has ended'
}
</script>

<template>
  <section aria-labelledby="people">
    <h2 id="people">People</h2>
    <table>
      <thead>
        <tr>
          <th scope="col">who</th>
          <th scope="col">may</th>
          <th scope="col"><span class="visually-hidden">What can be done</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in members.data.value" :key="one.email">
          <th scope="row">
            {{ one.name }} <span v-if="one.name === me" class="small quiet">(you)</span>
            <div class="small quiet">{{ one.email }}</div>
            <div v-if="standing(one)" class="small quiet">{{ standing(one) }}</div>
          </th>
          <td>
            <select
              class="form-select"
              :aria-label="`What ${one.name} may do`"
              :value="one.role"
              :disabled="one.closed"
              @change="setRole(one.email, ($event.target as HTMLSelectElement).value)"
            >
              <option v-for="(does, role) in ROLES" :key="role" :value="role" :title="does">{{ role }}</option>
            </select>
          </td>
          <td class="acts">
            <button
              v-if="!one.closed"
              type="button"
              class="btn btn-outline"
              :aria-label="`${one.joined ? 'New password' : 'New link'}: ${one.name}`"
              @click="linkFor(one.email)"
            >
              {{ one.joined ? 'New password' : 'New link' }}
            </button>
            <button
              v-if="one.name !== me"
              type="button"
              class="btn btn-outline"
              :aria-label="`${one.closed ? 'Open again' : 'Close'}: ${one.name}`"
              @click="close(one.email, !one.closed)"
            >
              {{ one.closed ? 'Open again' : 'Close' }}
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <OnceLink v-if="shown" :key="shown.link.key" v-bind="shown" @done="shown = undefined" />
    <form @submit.prevent="invite">
      <label>Name <input v-model="form.name" class="form-control" required maxlength="120" /></label>
      <label>Address <input v-model="form.email" class="form-control" type="email" required /></label>
      <label
        >May
        <select v-model="form.role" class="form-select">
          <option v-for="(does, role) in ROLES" :key="role" :value="role">{{ role }}: {{ does }}</option>
        </select></label
      >
      <button type="submit" class="btn btn-outline">Invite</button>
    </form>
    <p class="small quiet">
      Whoever is invited sets a password by a link that you pass on. Nobody signs in to a closed account; what was done
      stays under its name.
    </p>
  </section>
</template>

<style scoped>
form {
  align-items: end;
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin-top: 10px;
}
form label {
  display: grid;
  gap: 2px;
}
form select {
  max-width: 340px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  justify-content: end;
}
td select {
  min-width: 130px;
}
</style>
