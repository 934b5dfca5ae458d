<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { moment } from '@/shared/words'

/** A link that works once, shown once: to be copied, or sent with one's own mail program. */
const props = defineProps<{ link: Schemas['OnceLink']; to: string }>()
defineEmits<{ done: [] }>()
const address = computed(() => `${window.location.origin}/join#${props.link.key}`)
const mail = computed(() => {
  const body = `Set your password here, once, until ${moment(props.link.ends_at)}:\n${address.value}\n`
  const said = new URLSearchParams({ subject: 'Iron Kite', body }).toString().replaceAll('+', '%20')
  return `mailto:${encodeURIComponent(props.to)}?${said}`
})
const copied = ref(false)

async function copy(field: HTMLInputElement) {
  field.select()
  await navigator.clipboard.writeText(address.value).then(
    () => (copied.value = true),
    // Where the browser does not let it, it is marked, and Ctrl + C takes it.
    () => undefined,
  )
}
</script>

<template>
  <div class="once" role="status">
    <p>
      <b>A link for {{ to }}.</b> It is shown only now. Whoever opens it first sets the password; it works once, until
      {{ moment(link.ends_at) }}.
    </p>
    <input
      class="form-control"
      readonly
      :value="address"
      :aria-label="`The link for ${to}`"
      @focus="copy($event.target as HTMLInputElement)"
    />
    <div class="row-flex">
      <span class="small quiet">{{ copied ? 'copied' : 'Click it to copy it.' }}</span>
      <a class="btn btn-outline spacer" :href="mail">Send it with my mail program</a>
      <button type="button" class="btn btn-plain" @click="$emit('done')">Done</button>
    </div>
  </div>
</template>

<style scoped>
.once {
  border: 1px solid var(--ink);
  border-radius: 6px;
  display: grid;
  gap: 8px;
  margin: 8px 0;
  padding: 10px 12px;
}
p {
  margin: 0;
}
</style>
