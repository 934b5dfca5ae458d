<script lang="ts">
/** When a pointer was last pressed anywhere: a field that is left just then is left by hand. */
let pressedAt = 0
window.addEventListener('pointerdown', () => (pressedAt = performance.now()), true)
</script>

<script setup lang="ts">
import { nextTick, onBeforeUnmount, ref, watch } from 'vue'
import { Typed } from '@/api/typed'

/**
 * A value that is edited in place: it looks like text until pointed at, is saved on Enter or on leaving,
 * and Escape brings the old value back. What somebody else saves does not disturb what is being typed.
 */
const props = defineProps<{
  value: string | number | null | undefined
  label: string
  type?: 'text' | 'number' | 'date'
  step?: string
  placeholder?: string
  readonly?: boolean
  right?: boolean
  wrap?: boolean
}>()
const emit = defineEmits<{ save: [typed: Typed] }>()

const shown = (value: typeof props.value) => (value == null ? '' : String(value))
const text = ref(shown(props.value))
const field = ref<HTMLInputElement | HTMLTextAreaElement>()
const typing = ref(false)
/** What stood here when somebody began to type. */
let began: typeof props.value
/** Whether the field is left by a person, and not because the page moved it to another place. */
let leaving = false

function begin() {
  if (!typing.value) began = props.value
  typing.value = true
  leaving = false
}

function finish() {
  leaving = true
  field.value?.blur()
}

/** A row that moves in its list takes the focus away from what is being typed in it; it is given back. */
function blurred(event: FocusEvent) {
  const byHand = leaving || event.relatedTarget || !document.hasFocus() || performance.now() - pressedAt < 400
  if (byHand || !field.value) return leave()
  void nextTick(() => (field.value?.isConnected ? field.value.focus() : leave()))
}

watch(
  () => props.value,
  (value) => {
    if (!typing.value) text.value = shown(value)
  },
)

function leave() {
  typing.value = false
  const typed = String(text.value).trim()
  if (typed === shown(began)) {
    text.value = shown(props.value)
    return
  }
  const value = typed === '' ? null : props.type === 'number' ? Number(typed) : typed
  emit('save', new Typed(value, began ?? null))
  // A refused value goes back to what is stored; an accepted one arrives again from the server.
  void nextTick(() => setTimeout(() => !typing.value && (text.value = shown(props.value)), 1500))
}

function undo() {
  text.value = shown(began)
  finish()
}

// What is typed while its place is drawn away is saved, or told where that cannot be.
onBeforeUnmount(() => typing.value && leave())
</script>

<template>
  <textarea
    v-if="wrap"
    ref="field"
    v-model="text"
    rows="1"
    class="edit wrap"
    :aria-label="label"
    :placeholder="placeholder"
    :readonly="readonly"
    @focus="begin"
    @blur="blurred"
    @keydown.enter.exact.prevent="finish"
    @keydown.esc.stop="undo"
  />
  <input
    v-else
    ref="field"
    v-model="text"
    class="edit"
    :class="{ number: right }"
    :type="type ?? 'text'"
    :step="type === 'number' ? (step ?? 'any') : undefined"
    :aria-label="label"
    :placeholder="placeholder"
    :readonly="readonly"
    @focus="begin"
    @blur="blurred"
    @keydown.enter="finish"
    @keydown.esc.stop="undo"
  />
</template>

<style scoped>
.edit {
  background: transparent;
  border: 1px solid transparent;
  border-radius: 4px;
  color: inherit;
  font: inherit;
  letter-spacing: inherit;
  min-height: 26px;
  padding: 1px 4px;
  margin-left: -5px;
  width: calc(100% + 5px);
}
.edit.wrap {
  display: block;
  field-sizing: content;
  resize: none;
  overflow: hidden;
}
.edit::placeholder {
  color: var(--quiet);
  opacity: 1;
}
.edit:hover:not(:read-only) {
  border-color: var(--field);
}
.edit:focus {
  background: var(--panel);
  border-color: var(--ink);
  outline: 1px solid var(--ink);
}
.number {
  appearance: textfield;
  margin: 0;
  width: 100%;
}
.number::-webkit-inner-spin-button {
  display: none;
}
</style>
