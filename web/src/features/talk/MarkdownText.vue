<script setup lang="ts">
import { computed } from 'vue'
import { shown } from './markdown'

/** What somebody wrote in Markdown. */
const props = defineProps<{ text: string }>()
const html = computed(() => shown(props.text))
</script>

<template>
  <!-- eslint-disable-next-line vue/no-v-html -- cleaned in markdown.ts -->
  <div class="said" dir="auto" v-html="html" />
</template>

<style scoped>
.said {
  overflow-wrap: anywhere;
}
.said :deep(:is(p, ul, ol, pre, blockquote)) {
  margin: 0 0 6px;
}
.said :deep(:is(h1, h2, h3, h4, h5, h6)) {
  font-size: 15px;
  margin: 6px 0;
}
.said :deep(blockquote) {
  border-left: 2px solid var(--rule);
  padding-left: 8px;
}
.said :deep(pre) {
  overflow-x: auto;
}
.said :deep(.mention) {
  color: var(--up);
}
</style>
