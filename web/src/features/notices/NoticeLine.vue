<script setup lang="ts">
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import type { Schemas } from '@/api/client'
import { useReadNotices } from '@/api/talk'
import { placeOf, useSelection } from '@/shared/selection'
import { moment } from '@/shared/words'
import { lookFor, panel } from '../talk/passage'

/** One thing that somebody was told. It leads to where it is, and is read then. */
const props = defineProps<{ notice: Schemas['NoticeView'] }>()
const emit = defineEmits<{ gone: [] }>()
const { product } = useSelection()
const router = useRouter()
const read = useReadNotices()

const WHY: Record<Schemas['NoticeSort'], string> = {
  mentioned: 'speaks to you on',
  assigned: 'gave you',
  rule: 'tells you of',
  followed: 'changed',
}

/** Something said is no change of the thing itself. */
const why = computed(() => (props.notice.sort === 'followed' && props.notice.comment ? 'on' : WHY[props.notice.sort]))

async function go() {
  const { notice } = props
  if (!notice.read) await read([notice.id])
  emit('gone')
  await router.push(placeOf(notice.thing, notice.product ?? product.value))
  if (notice.comment) lookFor(notice.comment)
  else panel.value = notice.sort === 'followed' ? 'history' : 'trace'
}
</script>

<template>
  <button type="button" class="notice" :class="{ unread: !notice.read }" :data-notice="notice.sort" @click="go">
    <span class="small"
      ><b>{{ notice.by ?? (notice.sort === 'rule' ? 'A rule' : 'A command') }}</b> {{ why }}
      <b>{{ notice.reference }}</b>
      <span v-if="notice.times > 1" class="quiet"> · {{ notice.times }} times</span>
      <span class="quiet"> · {{ moment(notice.at) }}</span></span
    >
    <span class="words">{{ notice.words }}</span>
  </button>
</template>

<style scoped>
.notice {
  background: none;
  border: 0;
  border-bottom: 1px solid var(--rule);
  color: inherit;
  display: grid;
  padding: 6px 0 6px 14px;
  position: relative;
  text-align: left;
  width: 100%;
}
.notice.unread::before {
  content: '◆';
  font-size: 9px;
  left: 0;
  position: absolute;
  top: 10px;
}
.notice:hover .words {
  text-decoration: underline;
}
.words {
  overflow-wrap: anywhere;
}
</style>
