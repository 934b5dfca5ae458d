<script setup lang="ts">
import PopPanel from './PopPanel.vue'
import { ref } from 'vue'

/** A table that is pasted from a sheet or taken from a file of separated values, behind a word; below it what came of it. */
defineProps<{ label: string; says: string; action: string; example?: string }>()
const emit = defineEmits<{ take: [text: string] }>()
const text = defineModel<string>({ required: true })
const open = ref(false)

async function fromFile(field: HTMLInputElement) {
  const file = field.files?.[0]
  if (file) text.value = await file.text()
  field.value = ''
}
</script>

<template>
  <PopPanel v-model="open" :label="label">
    <div class="table">
      <label
        ><span class="small">{{ says }}</span>
        <textarea v-model="text" class="form-control" rows="6" :placeholder="example"></textarea>
      </label>
      <div class="row-flex">
        <label class="btn btn-outline file"
          >Take a file
          <input
            class="visually-hidden"
            type="file"
            accept=".csv,.tsv,.txt"
            @change="fromFile($event.target as HTMLInputElement)"
        /></label>
        <button type="button" class="btn btn-primary" :disabled="!text.trim()" @click="emit('take', text)">
          {{ action }}
        </button>
      </div>
      <slot />
    </div>
  </PopPanel>
</template>

<style scoped>
.table {
  display: grid;
  gap: 8px;
  width: min(460px, 82vw);
}
.file:focus-within {
  outline: 2px solid var(--ink);
  outline-offset: 2px;
}
</style>
