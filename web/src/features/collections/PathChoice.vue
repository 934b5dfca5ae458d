<script setup lang="ts">
import { computed, watchEffect } from 'vue'
import { useFields, type Collection } from '@/api/collections'
import { shown } from './model'

/** The links that a figure goes along, one after another; each choice opens the next. */
const props = defineProps<{ from: Collection; path: readonly string[]; left: number; further?: boolean }>()
const emit = defineEmits<{ change: [path: string[]]; end: [collection: Collection] }>()
const { data: fields } = useFields(() => props.from)
const links = computed(() => shown(fields.value ?? []).filter((one) => one.type === 'link'))
const target = computed(() => {
  const link = links.value.find((one) => one.name === props.path[0])
  return link?.type === 'link' ? link.to : undefined
})
watchEffect(() => {
  if (target.value && props.path.length === 1) emit('end', target.value)
})

const pick = (event: Event) => emit('change', [(event.target as HTMLSelectElement).value].filter(Boolean))
</script>

<template>
  <label
    >{{ further ? 'and then along' : 'Along' }}
    <select class="form-select" :required="!further" :value="path[0] ?? ''" @change="pick">
      <option v-if="further" value="">no further</option>
      <option v-for="one in links" :key="one.name" :value="one.name">{{ one.label }}</option>
    </select>
  </label>
  <PathChoice
    v-if="target && left > 1"
    :from="target"
    :path="path.slice(1)"
    :left="left - 1"
    further
    @change="emit('change', [path[0] ?? '', ...$event])"
    @end="emit('end', $event)"
  />
</template>
