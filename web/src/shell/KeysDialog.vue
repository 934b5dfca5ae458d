<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { shortcuts } from './shortcuts'
import { KEYS } from './stages'

const shown = defineModel<boolean>({ required: true })
const here = ref<[string, string][]>([])
watch(shown, (are) => are && (here.value = shortcuts()))
const parts = computed(() =>
  [
    { name: 'Here', keys: here.value },
    { name: 'Everywhere', keys: KEYS },
  ].filter((part) => part.keys.length),
)
</script>

<template>
  <BModal v-model="shown" title="Keys" ok-only ok-title="Close" ok-variant="outline">
    <section v-for="part in parts" :key="part.name" :data-keys="part.name">
      <h3 v-if="parts.length > 1">{{ part.name }}</h3>
      <dl>
        <template v-for="[key, what] in part.keys" :key="key">
          <dt>
            <kbd>{{ key }}</kbd>
          </dt>
          <dd>{{ what }}</dd>
        </template>
      </dl>
    </section>
  </BModal>
</template>

<style scoped>
h3 {
  font-size: 15px;
  margin: 0 0 6px;
}
section + section {
  margin-top: 14px;
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
