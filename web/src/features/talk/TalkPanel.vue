<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { api, value, type Thing } from '@/api/client'
import { useAttempt } from '@/api/attempt'
import { useMe, useRefresh } from '@/api/queries'
import { useSave } from '@/api/save'
import { useTalk, type Comment } from '@/api/talk'
import { count } from '@/shared/words'
import CommentBox from './CommentBox.vue'
import CommentCard from './CommentCard.vue'
import { lookedFor, speaksOf } from './passage'

/** What is said of the selected thing, and of words in its texts. */
const props = defineProps<{ thing: Thing }>()
const { data, error } = useTalk(() => props.thing)
const { save } = useSave()
const { data: me } = useMe()
const attempt = useAttempt()
const refresh = useRefresh()
const box = ref<InstanceType<typeof CommentBox>>()
const all = ref(false)
const busy = ref(false)

const open = computed(() => data.value?.comments.filter((one) => !one.resolved_at) ?? [])
const dealt = computed(() => data.value?.comments.filter((one) => one.resolved_at) ?? [])
const shown = computed(() => (all.value ? (data.value?.comments ?? []) : open.value))
/** Words that were chosen in this thing. */
const chosen = computed(() => {
  const one = speaksOf.value
  return one && one.on.kind === props.thing.kind && one.on.id === props.thing.id ? one : undefined
})
watch(chosen, async (is) => {
  if (!is) return
  await nextTick()
  box.value?.focus()
})

async function say(body: string, answered?: Comment) {
  busy.value = true
  const passage = answered ? undefined : chosen.value?.passage
  const done = await save(
    value(api.POST('/api/v1/comments', { body: { on: props.thing, reply_to: answered?.id, body, passage } })),
  )
  busy.value = false
  if (!done || answered) return
  box.value?.clear()
  speaksOf.value = undefined
}

async function follow() {
  const follows = !data.value?.follows
  const path = { kind: props.thing.kind, id: props.thing.id }
  await attempt(() => value(api.PUT('/api/v1/following/{kind}/{id}', { params: { path }, body: { follows } })))
  await refresh(['comment'])
}

/** Brings the comment that somebody came for into view. */
watch(
  [lookedFor, data],
  async () => {
    const id = lookedFor.value
    if (id === undefined || !data.value) return
    if (dealt.value.some((one) => one.id === id)) all.value = true
    await nextTick()
    const place = document.getElementById(`comment-${id}`)
    if (!place) return
    place.scrollIntoView({ block: 'nearest' })
    place.focus()
    lookedFor.value = undefined
  },
  { immediate: true },
)
</script>

<template>
  <section class="talk" data-talk>
    <p class="row-flex small">
      <span class="quiet">{{ data?.follows ? 'You hear of changes here.' : 'You do not hear of changes here.' }}</span>
      <button type="button" class="btn btn-plain spacer" @click="follow">
        {{ data?.follows ? 'Stop' : 'Follow it' }}
      </button>
    </p>
    <blockquote v-if="chosen" class="small" dir="auto" data-chosen>
      {{ chosen.words }}
      <button type="button" class="btn btn-plain" @click="speaksOf = undefined">speak of all of it</button>
    </blockquote>
    <p v-if="me?.role === 'viewer'" class="small quiet">It takes the role contributor to say something.</p>
    <CommentBox
      v-else
      ref="box"
      :label="chosen ? 'What about these words?' : 'What about it?'"
      action="Say it"
      :busy="busy"
      @send="say($event)"
      @leave="speaksOf = undefined"
    />
    <p v-if="error" role="alert">{{ error.message }}</p>
    <CommentCard v-for="one in shown" :key="one.id" :comment="one" @answer="say($event, one)" />
    <p v-if="data && !data.comments.length" class="small quiet none">
      Nothing is said yet. What is said here stays with the thing; select words of a text to speak of just these.
    </p>
    <button v-if="dealt.length" type="button" class="btn btn-plain" :aria-expanded="all" @click="all = !all">
      {{ all ? 'Only what is open' : `${count(dealt.length, 'comment')} dealt with` }}
    </button>
  </section>
</template>

<style scoped>
.talk {
  display: grid;
  gap: 4px;
  padding-bottom: 44px;
}
p {
  margin: 0;
}
.none {
  margin-top: 8px;
}
blockquote {
  border-left: 2px solid var(--up);
  margin: 0 0 4px;
  padding-left: 8px;
}
</style>
