<script setup lang="ts">
import StartFrame from './StartFrame.vue'
</script>

<template>
  <StartFrame title="There is nothing at this address">
    <p>It may have been typed wrongly. <RouterLink to="/">Go to the first page</RouterLink>.</p>
  </StartFrame>
</template>
