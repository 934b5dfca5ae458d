<script setup lang="ts">
import { computed } from 'vue'

/** Things that are linked, each can be taken away, and a list to link another. */
const props = defineProps<{
  label: string
  letter: string
  all: readonly { id: number; title: string }[]
  linked: readonly number[]
}>()
const emit = defineEmits<{ link: [id: number]; unlink: [id: number] }>()
const there = computed(() => props.all.filter((one) => props.linked.includes(one.id)))
const others = computed(() => props.all.filter((one) => !props.linked.includes(one.id)))

function pick(event: Event) {
  const field = event.target as HTMLSelectElement
  if (field.value) emit('link', Number(field.value))
  field.value = ''
}
</script>

<template>
  <div class="picker">
    <span class="small quiet">{{ label }}</span>
    <ul>
      <li v-for="one in there" :key="one.id">
        {{ letter }}{{ one.id }} {{ one.title }}
        <button
          type="button"
          class="btn btn-plain"
          :aria-label="`take away ${letter}${one.id}`"
          @click="emit('unlink', one.id)"
        >
          take away
        </button>
      </li>
    </ul>
    <select v-if="others.length" class="form-select" :aria-label="`Add to ${label.toLowerCase()}`" @change="pick">
      <option value="">add …</option>
      <option v-for="one in others" :key="one.id" :value="one.id">{{ letter }}{{ one.id }} {{ one.title }}</option>
    </select>
  </div>
</template>

<style scoped>
.picker {
  margin-top: 8px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
.btn {
  font-weight: 400;
  min-height: 24px;
  padding: 0 4px;
}
select {
  max-width: 260px;
}
</style>
