<script setup lang="ts">
import { nextTick, ref } from 'vue'
import { api, value } from '@/api/client'
import { useSave } from '@/api/save'
import { useDraft } from '@/shared/draft'
import { useSelection } from '@/shared/selection'

/** Adds an activity at the end of the backbone, or a step at the end of an activity. */
const props = defineProps<{ kind: 'activity' | 'step'; activity?: number }>()
const { product } = useSelection()
const { save } = useSave()
const { words: title, send } = useDraft(() => `${product.value} a new ${props.kind} ${props.activity ?? ''}`)
const open = ref(title.value !== '')
const field = ref<HTMLInputElement>()

async function show() {
  open.value = true
  await nextTick()
  field.value?.focus()
}

/** The field keeps the focus, so that one after the other can be added. */
const add = () =>
  send((title) => {
    const body = { title }
    return props.activity === undefined
      ? save(value(api.POST('/api/v1/map/activities', { params: { query: { product: product.value } }, body })))
      : save(value(api.POST('/api/v1/map/activities/{id}/steps', { params: { path: { id: props.activity } }, body })))
  })
</script>

<template>
  <form v-if="open" class="row-flex" @submit.prevent="add" @keydown.esc="open = false">
    <label>
      <span class="visually-hidden">A new {{ kind }}</span>
      <input
        ref="field"
        v-model="title"
        class="form-control"
        :placeholder="`a new ${kind}`"
        required
        @blur="open = title !== ''"
      />
    </label>
  </form>
  <button v-else type="button" class="btn" :class="kind === 'activity' ? 'btn-primary' : 'btn-plain'" @click="show">
    {{ kind === 'activity' ? 'Add an activity' : 'add a step' }}
  </button>
</template>
