<script setup lang="ts">
import { ref } from 'vue'
import { api, value } from '@/api/client'
import { useSave } from '@/api/save'
import type { Comment } from '@/api/talk'
import { moment } from '@/shared/words'
import CommentBox from './CommentBox.vue'
import MarkdownText from './MarkdownText.vue'

/** A comment with its answers, and what can be done with it. */
const props = defineProps<{ comment: Comment; answer?: boolean }>()
const emit = defineEmits<{ answer: [body: string] }>()
const { save } = useSave()
const edits = ref(false)
const answers = ref(false)
const params = () => ({ path: { id: props.comment.id } })

async function change(body: string) {
  const { rev } = props.comment
  if (await save(value(api.PATCH('/api/v1/comments/{id}', { params: params(), body: { rev, body } }))))
    edits.value = false
}
function resolve(resolved: boolean) {
  const body = { rev: props.comment.rev, resolved }
  return save(value(api.POST('/api/v1/comments/{id}/resolved', { params: params(), body })))
}
function remove() {
  const query = { rev: props.comment.rev }
  return save(value(api.DELETE('/api/v1/comments/{id}', { params: { ...params(), query } })))
}
function send(body: string) {
  emit('answer', body)
  answers.value = false
}
</script>

<template>
  <article
    :id="`comment-${comment.id}`"
    class="comment"
    :class="{ answer, dealt: comment.resolved_at }"
    :aria-label="`${answer ? 'Answer' : 'Comment'} by ${comment.by}`"
    tabindex="-1"
    data-comment
  >
    <blockquote v-if="comment.passage" class="small" :class="{ lost: comment.passage.from == null }" dir="auto">
      {{ comment.passage.words }}
      <span v-if="comment.passage.from == null" class="quiet">· these words are not in the text any more</span>
    </blockquote>
    <div class="small">
      <b>{{ comment.by }}</b> <span class="quiet">{{ moment(comment.written_at) }}</span><span
        v-if="comment.edited_at"
        class="quiet"
      >
        · changed</span
      >
    </div>
    <CommentBox
      v-if="edits"
      label="What it says from now on"
      action="Keep it"
      :begin="comment.body"
      @send="change"
      @leave="edits = false"
    >
      <button type="button" class="btn btn-plain" @click="edits = false">leave it</button>
    </CommentBox>
    <MarkdownText v-else :text="comment.body" />
    <div v-if="!edits" class="acts small">
      <span v-if="comment.resolved_at" class="quiet">dealt with by {{ comment.resolved_by ?? 'a rule' }}</span>
      <template v-if="!answer">
        <button v-if="!answers" type="button" class="btn btn-plain" @click="answers = true">answer</button>
        <button type="button" class="btn btn-plain" @click="resolve(!comment.resolved_at)">
          {{ comment.resolved_at ? 'open it again' : 'dealt with' }}
        </button>
      </template>
      <template v-if="comment.mine">
        <button type="button" class="btn btn-plain" @click="edits = true">change</button>
        <button type="button" class="btn btn-plain" @click="remove">remove</button>
      </template>
    </div>
    <CommentCard v-for="one in comment.answers" :key="one.id" :comment="one" answer />
    <CommentBox v-if="answers" label="An answer" action="Answer" @send="send" @leave="answers = false">
      <button type="button" class="btn btn-plain" @click="answers = false">leave it</button>
    </CommentBox>
  </article>
</template>

<style scoped>
.comment {
  border-top: 1px solid var(--rule);
  padding: 10px 0 6px;
}
.comment.answer {
  border-top: 0;
  margin-left: 12px;
  padding: 6px 0 0 10px;
  border-left: 1px solid var(--rule);
}
.comment:focus {
  outline: 2px solid var(--ink);
  outline-offset: 4px;
}
.dealt > :deep(.said) {
  color: var(--quiet);
}
blockquote {
  border-left: 2px solid var(--up);
  margin: 0 0 6px;
  max-height: 5.6em;
  overflow: hidden;
  padding-left: 8px;
}
blockquote.lost {
  border-left-style: dashed;
  border-left-color: var(--quiet);
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 8px;
}
.acts .btn {
  --bs-btn-padding-x: 0;
}
</style>
