<script setup lang="ts">
/** A page for people outside: made for phones first, with nothing of the inside. */
defineProps<{ title: string; product?: string }>()
</script>

<template>
  <main data-open>
    <p v-if="product" class="quiet product">{{ product }}</p>
    <h1>{{ title }}</h1>
    <slot />
  </main>
</template>

<style scoped>
main {
  font-size: 16px;
  margin: 0 auto;
  max-width: 560px;
  padding: 24px 18px 60px;
}
.product {
  margin: 0;
}
h1 {
  font-size: 26px;
  line-height: 1.2;
  margin: 4px 0 14px;
  overflow-wrap: anywhere;
}
:deep(.problem) {
  border: 1px solid var(--ink);
  border-radius: 6px;
  margin: 12px 0 0;
  padding: 8px 12px;
}
</style>
