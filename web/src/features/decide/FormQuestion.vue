<script setup lang="ts">
import type { Schemas } from '@/api/client'

/** One question of a request form. */
const field = defineModel<Schemas['FormField']>({ required: true })
defineProps<{ first: boolean; last: boolean }>()
const emit = defineEmits<{ up: []; down: []; remove: [] }>()
const KINDS: [Schemas['Asks'], string][] = [
  ['words', 'what they want to say'],
  ['more', 'more of it, in their words'],
  ['name', 'their name'],
  ['address', 'their mail address'],
  ['account', 'their organisation'],
  ['line', 'one line'],
  ['choice', 'one of some choices'],
]
const set = (change: Partial<Schemas['FormField']>) => (field.value = { ...field.value, ...change })
function setKind(event: Event) {
  const asks = (event.target as HTMLSelectElement).value as Schemas['Asks']
  set({ asks, choices: asks === 'choice' ? field.value.choices : [], must: asks === 'words' || field.value.must })
}
const setChoices = (event: Event) =>
  set({
    choices: (event.target as HTMLTextAreaElement).value
      .split('\n')
      .map((one) => one.trim())
      .filter(Boolean),
  })
</script>

<template>
  <fieldset>
    <legend class="visually-hidden">{{ field.label || 'A question' }}</legend>
    <input
      v-model="field.label"
      class="form-control grow"
      aria-label="The question"
      placeholder="the question"
      required
    />
    <select class="form-select" :value="field.asks" aria-label="What it asks for" @change="setKind">
      <option v-for="[name, says] in KINDS" :key="name" :value="name">{{ says }}</option>
    </select>
    <input
      v-model="field.help"
      class="form-control grow"
      aria-label="What helps to answer"
      placeholder="what helps to answer"
    />
    <label class="small"
      ><input v-model="field.must" type="checkbox" :disabled="field.asks === 'words'" /> must be answered</label
    >
    <button type="button" class="btn btn-plain" :disabled="first" @click="emit('up')">up</button>
    <button type="button" class="btn btn-plain" :disabled="last" @click="emit('down')">down</button>
    <button v-if="field.asks !== 'words'" type="button" class="btn btn-plain" @click="emit('remove')">remove</button>
    <textarea
      v-if="field.asks === 'choice'"
      class="form-control wide"
      rows="3"
      aria-label="The choices, one on a line"
      placeholder="one choice on a line"
      :value="(field.choices ?? []).join('\n')"
      @change="setChoices"
    ></textarea>
  </fieldset>
</template>

<style scoped>
fieldset {
  align-items: center;
  border: 0;
  border-top: 1px solid var(--rule);
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin: 0;
  padding: 6px 0;
}
.grow {
  flex: 1 1 180px;
}
.form-select {
  width: auto;
}
.wide {
  flex-basis: 100%;
}
</style>
