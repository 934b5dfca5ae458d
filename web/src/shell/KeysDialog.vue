<script setup lang="ts">
import { KEYS } from './stages'

const shown = defineModel<boolean>({ required: true })
</script>

<template>
  <BModal v-model="shown" title="Keys" ok-only ok-title="Close" ok-variant="outline">
    <dl>
      <template v-for="[key, what] in KEYS" :key="key">
        <dt>
          <kbd>{{ key }}</kbd>
        </dt>
        <dd>{{ what }}</dd>
      </template>
    </dl>
  </BModal>
</template>

<style scoped>
dl {
  display: grid;
  gap: 6px 14px;
  grid-template-columns: auto 1fr;
  margin: 0;
}
dd {
  margin: 0;
}
</style>
