<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { ApiProblem, api, value, type Schemas } from '@/api/client'
import { attachment, putIn } from '@/api/files'
import { showProblem, useSave } from '@/api/save'

/** The sound or the picture of a conversation beside its words: heard from anywhere, put there and taken away. */
const props = defineProps<{ item: Schemas['ItemView'] }>()
/** Where it stands, in milliseconds; set from outside it goes there. */
const at = defineModel<number>('at')
const { save } = useSave()
const player = ref<HTMLMediaElement>()
const isFilm = computed(() => props.item.recorded?.media_type.startsWith('video/'))

function told(event: Event) {
  at.value = Math.round((event.target as HTMLMediaElement).currentTime * 1000)
}

async function go(ms: number) {
  if (!player.value) return
  player.value.currentTime = ms / 1000
  // Where the browser does not let it begin by itself, it waits there to be begun.
  await player.value.play().catch(() => undefined)
}
defineExpose({ go })
watch(
  () => props.item.id,
  () => (at.value = undefined),
)

async function put(event: Event) {
  const given = (event.target as HTMLInputElement).files?.[0]
  if (!given) return
  try {
    await set((await putIn(given)).id)
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    showProblem(error.body)
  }
}
function set(recording: number | null) {
  const body = { rev: props.item.rev, recording }
  const path = { id: props.item.id }
  return save(value(api.POST('/api/v1/listen/items/{id}/recording', { params: { path }, body })))
}
</script>

<template>
  <div class="recording" data-recording>
    <template v-if="item.recorded">
      <component
        :is="isFilm ? 'video' : 'audio'"
        ref="player"
        controls
        preload="metadata"
        :src="attachment(item.recorded.id)"
        :aria-label="`Recording of F${item.id}`"
        @timeupdate="told"
      />
      <div class="row-flex small quiet">
        <span>{{ item.recorded.name }}</span>
        <button type="button" class="btn btn-plain" @click="set(null)">Take it away</button>
      </div>
    </template>
    <label v-else class="small quiet">
      Its sound or film
      <input type="file" accept="audio/*,video/*" class="form-control" @change="put" />
    </label>
  </div>
</template>

<style scoped>
.recording {
  background: var(--ground);
  margin-bottom: 8px;
  max-width: 65ch;
  position: sticky;
  top: 0;
  z-index: 1;
}
audio,
video {
  display: block;
  max-height: 180px;
  width: 100%;
}
.form-control {
  display: inline-block;
  width: auto;
}
</style>
