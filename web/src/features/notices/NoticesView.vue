<script setup lang="ts">
import { computed } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useAttempt } from '@/api/attempt'
import { TOLD, useMe, useRefresh } from '@/api/queries'
import { useNotices, useNoticeSettings, useOutbox, useReadNotices } from '@/api/talk'
import { moment } from '@/shared/words'
import NoticeLine from './NoticeLine.vue'

/** All that somebody was told, what the person wants to hear of, and, for an owner, the outbox. */
const { data, error } = useNotices()
const { data: settings, refetch } = useNoticeSettings()
const { data: me } = useMe()
const owner = computed(() => me.value?.role === 'owner')
const { data: outbox } = useOutbox(owner)
const attempt = useAttempt()
const refresh = useRefresh()
const read = useReadNotices()

const SORTS: Record<Schemas['NoticeSort'], string> = {
  mentioned: 'Somebody speaks to me, or to a team of mine',
  assigned: 'I am given something to answer for',
  rule: 'A rule tells me something',
  followed: 'Something that I follow changes',
}
const STATES: Record<Schemas['MessageState'], string> = {
  waiting: 'waits',
  sending: 'goes out',
  sent: 'sent',
  kept: 'kept as a file',
  failed: 'given up',
  unsure: 'may have arrived',
}

async function set(one: Schemas['Setting']) {
  await attempt(() => value(api.PUT('/api/v1/notices/settings', { body: one })))
  await refetch()
}
async function again(id: number) {
  await attempt(() => value(api.POST('/api/v1/outbox/{id}/again', { params: { path: { id } } })))
  await refresh([TOLD])
}
</script>

<template>
  <div class="notices" data-work>
    <section aria-labelledby="told">
      <div class="row-flex">
        <h1 id="told">What you were told</h1>
        <button v-if="data?.unread" type="button" class="btn btn-outline spacer" @click="read()">
          All of it is read
        </button>
      </div>
      <p v-if="error" role="alert">{{ error.message }}</p>
      <NoticeLine v-for="one in data?.notices" :key="one.id" :notice="one" />
      <p v-if="data && !data.notices.length" class="quiet">
        Nothing yet. Follow a thing where it is talked about, in the panel beside it.
      </p>
    </section>
    <aside>
      <section aria-labelledby="settings">
        <h2 id="settings">What you want to hear of</h2>
        <table class="settings">
          <thead>
            <tr>
              <th scope="col"><span class="visually-hidden">When</span></th>
              <th scope="col">here</th>
              <th scope="col">by mail</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in settings" :key="one.sort">
              <th scope="row">{{ SORTS[one.sort] }}</th>
              <td v-for="way in ['here', 'by_mail'] as const" :key="way">
                <input
                  type="checkbox"
                  :checked="one[way]"
                  :aria-label="`${SORTS[one.sort]}: ${way === 'here' ? 'here' : 'by mail'}`"
                  @change="set({ ...one, [way]: !one[way] })"
                />
              </td>
            </tr>
          </tbody>
        </table>
        <p class="small quiet">
          You follow what you comment on, answer for or are spoken to about, and whatever you choose to. You never hear
          of what you did yourself.
        </p>
      </section>
      <section v-if="owner && outbox" aria-labelledby="outbox" data-outbox>
        <h2 id="outbox">Outbox</h2>
        <p v-if="!outbox.length" class="small quiet">No message was written yet.</p>
        <ul>
          <li v-for="one in outbox" :key="one.id">
            <div>{{ one.subject }}</div>
            <div class="small quiet">
              {{ one.to }} · {{ STATES[one.state]
              }}<template v-if="one.tries > 1">, tried {{ one.tries }} times</template>
              <template v-if="one.next_at && one.tries">, next {{ moment(one.next_at) }}</template>
            </div>
            <div v-if="one.problem" class="small">
              {{ one.problem }}
              <button
                v-if="one.state === 'failed' || one.state === 'unsure'"
                type="button"
                class="btn btn-plain"
                @click="again(one.id)"
              >
                Send it again
              </button>
            </div>
          </li>
        </ul>
      </section>
    </aside>
  </div>
</template>

<style scoped>
.notices {
  align-content: start;
  display: grid;
  gap: 20px 40px;
  grid-template-columns: minmax(0, 3fr) minmax(260px, 2fr);
  overflow: auto;
  padding: 20px 24px 56px;
}
h1 {
  font-size: 22px;
  margin: 0 0 8px;
}
h2 {
  font-size: 16px;
  margin: 0 0 6px;
}
aside {
  align-content: start;
  display: grid;
  gap: 26px;
}
.settings th {
  font-weight: 400;
  padding: 5px 10px 5px 0;
  text-align: left;
}
.settings thead th {
  color: var(--quiet);
  font-size: 13px;
}
.settings td {
  text-align: center;
}
input {
  height: 20px;
  width: 20px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  border-bottom: 1px solid var(--rule);
  overflow-wrap: anywhere;
  padding: 6px 0;
}
@media (max-width: 800px) {
  .notices {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
