<script setup lang="ts">
import KiteLogo from '@/shell/KiteLogo.vue'

defineProps<{ title: string }>()
</script>

<template>
  <main>
    <div class="name"><KiteLogo /> Iron Kite</div>
    <h1>{{ title }}</h1>
    <slot />
  </main>
</template>

<style scoped>
main {
  margin: 0 auto;
  max-width: 420px;
  padding: 64px 20px;
}
.name {
  align-items: center;
  display: flex;
  font-family: 'Bricolage Grotesque Variable', sans-serif;
  font-weight: 650;
  gap: 8px;
}
h1 {
  font-size: 28px;
  margin: 20px 0;
}
:deep(form) {
  display: grid;
  gap: 6px;
}
:deep(form label) {
  font-weight: 600;
  margin-top: 8px;
}
:deep(form .btn) {
  justify-self: start;
  margin-top: 12px;
}
:deep(.problem) {
  border: 1px solid var(--ink);
  border-radius: 6px;
  margin: 10px 0 0;
  padding: 8px 12px;
}
</style>
