<script setup lang="ts">
import { ref, watch } from 'vue'
import { shortcuts } from './shortcuts'
import { KEYS } from './stages'

const shown = defineModel<boolean>({ required: true })
const here = ref<[string, string][]>([])
watch(shown, (are) => are && (here.value = shortcuts()))
</script>

<template>
  <BModal v-model="shown" title="Keys" ok-only ok-title="Close" ok-variant="outline">
    <template v-if="here.length">
      <h3>Here</h3>
      <dl data-here>
        <template v-for="[key, what] in here" :key="key">
          <dt>
            <kbd>{{ key }}</kbd>
          </dt>
          <dd>{{ what }}</dd>
        </template>
      </dl>
      <h3>Everywhere</h3>
    </template>
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
h3 {
  font-size: 15px;
  margin: 14px 0 6px;
}
h3:first-child {
  margin-top: 0;
}
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
