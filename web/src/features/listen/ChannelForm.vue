<script setup lang="ts">
import { computed, reactive } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useSave } from '@/api/save'
import { useSelection } from '@/shared/selection'

/** A new channel, or the place, the time and the key of one that is there. */
const props = defineProps<{ channel?: Schemas['ChannelView'] }>()
const emit = defineEmits<{ done: [] }>()
const { product } = useSelection()
const { save } = useSave()
const form = reactive({
  kind: (props.channel?.kind ?? 'folder') as Schemas['ChannelKind'],
  name: props.channel?.name ?? '',
  place: props.channel?.place ?? '',
  key: '',
  every: props.channel?.every_minutes ?? 15,
  covers: props.channel?.covers === 1,
})
const far = computed(() => form.kind === 'desk' || form.kind === 'reviews')
const HINTS: Record<Schemas['ChannelKind'], string> = {
  folder: 'a path below DATA/channels',
  mailbox: 'the path of an mbox file',
  desk: 'https://desk.crossing.example',
  reviews: 'https://reviews.crossing.example',
}

async function keep() {
  const same = { place: form.place, key: form.key || null, every_minutes: form.every, covers: form.covers }
  const saved = props.channel
    ? await save(
        value(
          api.PATCH('/api/v1/listen/channels/{id}', {
            params: { path: { id: props.channel.id } },
            body: { rev: props.channel.rev, ...same },
          }),
        ),
      )
    : await save(
        value(
          api.POST('/api/v1/listen/channels', {
            body: { product: product.value, name: form.name, kind: form.kind, ...same },
          }),
        ),
      )
  if (saved) emit('done')
}
</script>

<template>
  <form class="row-flex" @submit.prevent="keep">
    <label v-if="!channel"
      >What it is
      <select v-model="form.kind" class="form-select">
        <option value="folder">a folder</option>
        <option value="mailbox">a mail box</option>
        <option value="desk">a support desk</option>
        <option value="reviews">a review site</option>
      </select>
    </label>
    <label v-if="!channel">Its name <input v-model="form.name" name="name" class="form-control" required /></label>
    <label
      >Where it is
      <input v-model="form.place" name="place" class="form-control wide" :placeholder="HINTS[form.kind]" required
    /></label>
    <label v-if="far"
      >Its key
      <input
        v-model="form.key"
        class="form-control"
        type="password"
        autocomplete="off"
        :placeholder="channel?.has_key ? 'stays as it is' : 'none'"
    /></label>
    <label
      >Every so many minutes <input v-model.number="form.every" class="form-control short" type="number" min="1"
    /></label>
    <label class="cover"
      ><input v-model="form.covers" type="checkbox" /> cover addresses and numbers in the words</label
    >
    <button type="submit" class="btn btn-outline">{{ channel ? 'Keep' : 'Connect' }}</button>
    <button type="button" class="btn btn-plain" @click="emit('done')">Leave it</button>
  </form>
</template>

<style scoped>
form {
  align-items: end;
  padding: 6px 0 10px;
}
.wide {
  min-width: 280px;
}
.short {
  width: 100px;
}
.cover {
  align-items: baseline;
  display: inline-flex;
  gap: 8px;
  padding-bottom: 6px;
}
</style>
