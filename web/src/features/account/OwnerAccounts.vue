<script setup lang="ts">
import { useQuery } from '@pinia/colada'
import { api, value } from '@/api/client'
import { useAttempt } from '@/api/attempt'
import { moment } from '@/shared/words'

/** Everybody who can sign in, and the links by which other programs see calendars: for an owner. */
defineProps<{ me: string }>()
const attempt = useAttempt()
const members = useQuery({ key: ['members'], query: () => value(api.GET('/api/v1/members')) })
const links = useQuery({ key: ['calendar-links'], query: () => value(api.GET('/api/v1/calendar-links')) })

async function close(email: string, closed: boolean) {
  await attempt(() => value(api.PUT('/api/v1/members/closed', { body: { email, closed } })))
  await Promise.all([members.refetch(), links.refetch()])
}
async function end(id: number) {
  await attempt(() => value(api.DELETE('/api/v1/calendar-links/{id}', { params: { path: { id } } })))
  await links.refetch()
}
</script>

<template>
  <section aria-labelledby="everybody">
    <h2 id="everybody">Accounts</h2>
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
            {{ one.name }}
            <div class="small quiet">{{ one.email }}</div>
          </th>
          <td>{{ one.closed ? 'closed' : one.role }}</td>
          <td>
            <span v-if="one.name === me" class="small quiet">you</span>
            <button
              v-else
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
    <p class="small quiet">
      Nobody signs in to a closed account; what was done stays under its name. People are added on the server:
      <code>iron-kite user add</code>.
    </p>
  </section>
  <section aria-labelledby="links">
    <h2 id="links">Calendar links</h2>
    <p v-if="!links.data.value?.length" class="small quiet">No other program subscribes to a calendar.</p>
    <ul>
      <li v-for="one in links.data.value" :key="one.id">
        <div>
          {{ one.view }}
          <div class="small quiet">by {{ one.by }}, {{ moment(one.made_at) }}</div>
        </div>
        <button type="button" class="btn btn-outline spacer" :aria-label="`End: ${one.view}`" @click="end(one.id)">
          End
        </button>
      </li>
    </ul>
  </section>
</template>

<style scoped>
h2 {
  font-size: 16px;
  margin: 0 0 6px;
}
table {
  width: 100%;
}
th {
  font-weight: 400;
  overflow-wrap: anywhere;
  padding: 6px 10px 6px 0;
  text-align: left;
  vertical-align: top;
}
thead th {
  color: var(--quiet);
  font-size: 13px;
}
td {
  padding: 6px 10px 6px 0;
  vertical-align: top;
}
tbody tr {
  border-bottom: 1px solid var(--rule);
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  align-items: start;
  border-bottom: 1px solid var(--rule);
  display: flex;
  gap: 12px;
  overflow-wrap: anywhere;
  padding: 8px 0;
}
</style>
