<script setup lang="ts">
/** An empty place says what belongs there and offers the first step. */
defineProps<{ title: string }>()
</script>

<template>
  <div class="empty">
    <h2>{{ title }}</h2>
    <p class="quiet"><slot /></p>
    <div class="row-flex"><slot name="steps" /></div>
  </div>
</template>

<style scoped>
.empty {
  margin: 48px auto;
  max-width: 460px;
  padding: 0 16px;
}
h2 {
  font-size: 18px;
}
</style>
