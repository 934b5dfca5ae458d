<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'

/** The private link of a request: it is shown once, and only its owner has it. */
const props = defineProps<{ sent: string }>()
const router = useRouter()
const place = computed(() => ({ name: 'sent', params: { key: props.sent } }))
const address = computed(() => new URL(router.resolve(place.value).href, location.href).href)
const copied = ref(false)

async function copy() {
  await navigator.clipboard.writeText(address.value)
  copied.value = true
}
</script>

<template>
  <div>
    <p>By this link, and by no other way, you can see what becomes of it. Keep it; it is not shown again.</p>
    <p class="link">
      <RouterLink :to="place" data-sent>{{ address }}</RouterLink>
    </p>
    <button type="button" class="btn btn-outline" @click="copy">{{ copied ? 'Copied' : 'Copy the link' }}</button>
  </div>
</template>

<style scoped>
.link {
  overflow-wrap: anywhere;
}
.btn {
  min-height: 44px;
}
</style>
