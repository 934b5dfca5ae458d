<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, value } from '@/api/client'
import type { RowView } from '@/api/collections'
import { useItem, useMe } from '@/api/queries'
import { useSave } from '@/api/save'
import PickThing from '@/shared/PickThing.vue'
import { thingIn } from '@/shared/tabs'
import { words } from '@/shared/words'
import { links } from '../collections/text'

type Proof = 'unproved' | 'address' | 'confirmed'

/** A request: what was said, the answer that its sender reads, and putting it behind an idea in one step. */
const props = defineProps<{ row: RowView }>()
const { save, edit } = useSave()
const item = computed(() => links(props.row.values.item_id)[0])
const { data } = useItem(() => item.value?.id)
const ideas = computed(() => links(props.row.values.ideas))
const reply = ref(String(props.row.values.reply ?? ''))
const PLACES = [{ kind: 'idea', name: 'Ideas' }] as const
const beside = computed(() => {
  try {
    return Object.entries(JSON.parse(data.value?.extra ?? '{}') as Record<string, unknown>)
  } catch {
    return []
  }
})

function behind(idea: number | null) {
  const params = { path: { id: props.row.id } }
  return save(value(api.POST('/api/v1/decide/requests/{id}/idea', { params, body: { idea_id: idea } })))
}
const proof = computed(() => props.row.values.proof as Proof | null)
const sender = computed(() => String(props.row.values.sender ?? ''))
const PROVED: Record<Proof, string> = {
  unproved: 'nobody proved it, so it counts for no person and no account',
  address: 'the address is proved; an organisation that is only named does not count',
  confirmed: 'confirmed by your team',
}
const { data: me } = useMe()
const edits = computed(() => me.value?.role === 'owner' || me.value?.role === 'editor')
const confirm = () =>
  save(
    value(
      api.POST('/api/v1/decide/requests/{id}/sender', {
        params: { path: { id: props.row.id } },
        body: { rev: props.row.rev },
      }),
    ),
  )
const answer = () =>
  edit(
    { kind: 'request', id: props.row.id },
    { ...props.row.values, rev: props.row.rev },
    { reply: reply.value || null },
  )
</script>

<template>
  <div data-request>
    <p v-if="data" class="words" dir="auto">{{ data.text }}</p>
    <dl v-if="beside.length" class="small">
      <template v-for="[question, answered] in beside" :key="question">
        <dt class="quiet">{{ question }}</dt>
        <dd>{{ answered }}</dd>
      </template>
    </dl>
    <p class="small quiet">
      <RouterLink v-if="item" class="thing" :to="thingIn('feedback_item', item.id)">F{{ item.id }}</RouterLink>
    </p>
    <div v-if="proof" class="sender" data-sender :data-proof="proof">
      <p>
        {{ proof === 'confirmed' ? 'Sent by' : 'Says to be' }} <b>{{ sender }}</b><span class="small quiet">
          · {{ PROVED[proof] }}</span
        >
      </p>
      <button v-if="proof !== 'confirmed' && edits" type="button" class="btn btn-outline" @click="confirm">
        Confirm who sent it
      </button>
    </div>
    <div class="row-flex">
      <PickThing
        label="Put it behind an idea"
        search="Search for an idea"
        :places="PLACES"
        @pick="(_, id) => behind(id)"
      />
      <button type="button" class="btn btn-outline" @click="behind(null)">Make an idea of it</button>
    </div>
    <ul v-if="ideas.length">
      <li v-for="idea in ideas" :key="idea.id">
        Behind <RouterLink class="thing" :to="thingIn('idea', idea.id)">{{ idea.label }}</RouterLink>
      </li>
    </ul>
    <form @submit.prevent="answer">
      <label
        ><span class="small quiet">What the sender reads, beside “{{ words(String(row.values.became ?? '')) }}”</span>
        <textarea v-model="reply" class="form-control" rows="3" maxlength="20000"></textarea>
      </label>
      <button type="submit" class="btn btn-primary" :disabled="reply === String(row.values.reply ?? '')">
        Answer the sender
      </button>
    </form>
  </div>
</template>

<style scoped>
.words {
  overflow-wrap: anywhere;
  white-space: pre-line;
}
.sender p {
  margin: 0 0 4px;
  overflow-wrap: anywhere;
}
.sender {
  margin-bottom: 10px;
}
dl {
  display: grid;
  grid-template-columns: minmax(80px, auto) 1fr;
  margin: 0 0 6px;
}
dd {
  margin: 0 0 0 10px;
}
ul {
  list-style: none;
  margin: 8px 0;
  padding: 0;
}
form {
  display: grid;
  gap: 8px;
  margin-top: 10px;
  max-width: 560px;
}
form .btn {
  justify-self: start;
}
form label {
  display: block;
}
</style>
