<script setup lang="ts">
import { computed, nextTick, ref, useId } from 'vue'
import { useTeam } from '@/api/collections'
import { useTeams } from '@/api/queries'

/** Where somebody writes a comment. An @ offers people and teams; Ctrl + Enter sends. */
const props = defineProps<{ label: string; action: string; begin?: string; busy?: boolean }>()
const emit = defineEmits<{ send: [body: string]; leave: [] }>()
const text = ref(props.begin ?? '')
const field = ref<HTMLTextAreaElement>()
const id = useId()
const { data: people } = useTeam()
const { data: teams } = useTeams()

/** What is typed behind an @, up to the caret; nothing where no @ stands before it. */
const asked = ref<string>()
const at = ref(0)
const FEW = 6

const offered = computed(() => {
  const words = asked.value?.toLowerCase()
  if (words === undefined) return []
  const all = [
    ...(people.value ?? []).map((one) => ({ name: one.name, mark: `person:${one.id}`, sort: '' })),
    ...(teams.value ?? []).map((one) => ({ name: one.name, mark: `team:${one.id}`, sort: 'team' })),
  ]
  return all.filter((one) => one.name.toLowerCase().includes(words)).slice(0, FEW)
})

function look() {
  const before = text.value.slice(0, field.value?.selectionStart ?? 0)
  const found = /(?:^|[\s(])@([^@\n]{0,30})$/.exec(before)
  asked.value = found?.[1]
  at.value = 0
}

async function take(one: { name: string; mark: string }) {
  const caret = field.value?.selectionStart ?? text.value.length
  const from = caret - (asked.value?.length ?? 0) - 1
  const mention = `[${one.name.replace(/[[\]]/g, '')}](${one.mark}) `
  text.value = text.value.slice(0, from) + mention + text.value.slice(caret)
  asked.value = undefined
  await nextTick()
  field.value?.focus()
  field.value?.setSelectionRange(from + mention.length, from + mention.length)
}

function send() {
  const body = text.value.trim()
  if (body && !props.busy) emit('send', body)
}

function onKey(event: KeyboardEvent) {
  if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) {
    event.preventDefault()
    send()
    return
  }
  const one = offered.value[at.value]
  if (one && ['ArrowDown', 'ArrowUp'].includes(event.key)) {
    event.preventDefault()
    const step = event.key === 'ArrowDown' ? 1 : -1
    at.value = (at.value + step + offered.value.length) % offered.value.length
  } else if (one && ['Enter', 'Tab'].includes(event.key)) {
    event.preventDefault()
    void take(one)
  } else if (event.key === 'Escape') {
    event.stopPropagation()
    if (asked.value !== undefined) asked.value = undefined
    else emit('leave')
  }
}

defineExpose({ clear: () => (text.value = ''), focus: () => field.value?.focus() })
</script>

<template>
  <div class="box">
    <textarea
      ref="field"
      v-model="text"
      class="form-control"
      rows="3"
      :aria-label="label"
      :placeholder="label"
      role="combobox"
      :aria-expanded="offered.length > 0"
      :aria-controls="id"
      :aria-activedescendant="offered.length ? `${id}-${at}` : undefined"
      aria-autocomplete="list"
      @input="look"
      @click="look"
      @keyup.left.right="look"
      @keydown="onKey"
    />
    <ul v-show="offered.length" :id="id" role="listbox" aria-label="People and teams" class="offered">
      <li
        v-for="(one, n) in offered"
        :id="`${id}-${n}`"
        :key="one.mark"
        role="option"
        :aria-selected="n === at"
        @pointerdown.prevent="take(one)"
      >
        {{ one.name }} <span class="small quiet">{{ one.sort }}</span>
      </li>
    </ul>
    <div class="row-flex">
      <span class="small quiet">@ speaks to somebody</span>
      <slot />
      <button type="button" class="btn btn-outline spacer" :disabled="!text.trim() || busy" @click="send">
        {{ action }}
      </button>
    </div>
  </div>
</template>

<style scoped>
.box {
  display: grid;
  gap: 6px;
  position: relative;
}
.offered {
  background: var(--panel);
  border: 1px solid var(--field);
  border-radius: 6px;
  list-style: none;
  margin: 0;
  padding: 4px 0;
}
.offered li {
  cursor: pointer;
  min-height: 28px;
  padding: 4px 10px;
}
.offered li[aria-selected='true'] {
  background: var(--paper);
  outline: 1.5px solid var(--ink);
  outline-offset: -1.5px;
}
</style>
