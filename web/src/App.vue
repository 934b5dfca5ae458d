<script setup lang="ts">
import { BApp } from 'bootstrap-vue-next/components/BApp'
import SavedLine from './shell/SavedLine.vue'
</script>

<template>
  <BApp>
    <RouterView />
    <SavedLine />
  </BApp>
</template>
