<script setup lang="ts">
import { ref } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useChannels, useMe } from '@/api/queries'
import { useSave } from '@/api/save'
import { useAttempt } from '@/api/attempt'
import { useSelection } from '@/shared/selection'
import { count, moment } from '@/shared/words'
import ChannelForm from './ChannelForm.vue'

/** The places outside that are looked at: how each stands, and what can be done with it. */
type Channel = Schemas['ChannelView']
const emit = defineEmits<{ look: [job: number] }>()
const { product } = useSelection()
const { save } = useSave()
const attempt = useAttempt()
const { data: channels } = useChannels(product)
const { data: me } = useMe()
/** The channel that is being changed; 0 for a new one. */
const open = ref<number>()
const KINDS: Record<Schemas['ChannelKind'], string> = {
  folder: 'a folder',
  mailbox: 'a mail box',
  desk: 'a support desk',
  reviews: 'a review site',
}

const stands = (one: Channel) =>
  [
    one.paused ? 'left alone' : `every ${count(one.every_minutes, 'minute')}`,
    one.looked_at ? `looked at ${moment(one.looked_at)}` : 'not looked at yet',
    one.items == null ? '' : `${count(one.items, 'item')} came`,
    one.place.startsWith('stand-in:') ? 'simulated' : '',
  ]
    .filter(Boolean)
    .join(' · ')

async function look(one: Channel) {
  const params = { path: { id: one.id } }
  const job = await attempt(() => value(api.POST('/api/v1/listen/channels/{id}/look', { params })))
  if (job) emit('look', job.id)
}

const change = (one: Channel, paused: boolean) =>
  save(
    value(
      api.PATCH('/api/v1/listen/channels/{id}', { params: { path: { id: one.id } }, body: { rev: one.rev, paused } }),
    ),
  )

const remove = (one: Channel) =>
  save(value(api.DELETE('/api/v1/listen/channels/{id}', { params: { path: { id: one.id }, query: { rev: one.rev } } })))
</script>

<template>
  <section aria-labelledby="channels-head">
    <h2 id="channels-head">
      Channels
      <button v-if="me?.role === 'owner' && open === undefined" type="button" class="btn btn-outline" @click="open = 0">
        Connect a channel
      </button>
    </h2>
    <ChannelForm v-if="open === 0" @done="open = undefined" />
    <ul>
      <li v-for="one in channels" :key="one.id" :data-channel="one.name">
        <div class="row-flex">
          <b>{{ one.name }}</b>
          <span class="small quiet">{{ KINDS[one.kind] }} · {{ one.place }} · {{ stands(one) }}</span>
          <span class="row-flex acts">
            <button type="button" class="btn btn-plain" :aria-label="`Look now at ${one.name}`" @click="look(one)">
              Look now
            </button>
            <template v-if="me?.role === 'owner'">
              <button type="button" class="btn btn-plain" @click="change(one, !one.paused)">
                {{ one.paused ? 'Look again in its time' : 'Leave alone' }}
              </button>
              <button type="button" class="btn btn-plain" @click="open = one.id">Change</button>
              <button type="button" class="btn btn-plain" @click="remove(one)">Disconnect</button>
            </template>
          </span>
        </div>
        <p v-if="one.problem" class="hatch small">
          <span>{{ one.problem }}</span>
        </p>
        <ChannelForm v-if="open === one.id" :channel="one" @done="open = undefined" />
      </li>
      <li v-if="channels?.length === 0" class="quiet">
        None yet. A channel is looked at again and again: a folder, a mail box, a support desk, a review site.
      </li>
    </ul>
  </section>
</template>

<style scoped>
section {
  border-top: 1px solid var(--rule);
  margin-top: 18px;
  padding-top: 10px;
}
h2 {
  align-items: center;
  display: flex;
  font-size: 16px;
  gap: 14px;
  margin: 0 0 6px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  padding: 5px 0;
}
.acts {
  gap: 0;
  margin-left: -5px;
  width: 100%;
}
p {
  border: 1px solid var(--ink);
  margin: 4px 0 0;
  max-width: 720px;
  padding: 3px 10px;
}
</style>
