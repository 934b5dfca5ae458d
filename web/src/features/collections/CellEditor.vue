<script setup lang="ts">
import { computed, nextTick, onMounted, ref } from 'vue'
import type { FieldDef, RowView } from '@/api/collections'
import { ApiProblem } from '@/api/client'
import { fetchRows } from '@/api/collections'
import { putIn } from '@/api/files'
import { showProblem } from '@/api/save'
import { useCollection } from './context'
import { file, keys, links, span, type Linked } from './text'

/** Edits one value in place. Enter and leaving save, Escape does not. */
const props = defineProps<{ field: FieldDef; row: RowView; start?: string }>()
const emit = defineEmits<{ done: [move?: 'down' | 'right' | 'left'] }>()
const { set, team, product } = useCollection()
/** What stood here when somebody began: what others change meanwhile is a conflict, and not passed over. */
const began = props.row
const value = computed(() => began.values[props.field.name])
const place = ref<HTMLElement>()
const text = ref<string | number>(props.start ?? (value.value == null ? '' : String(value.value)))
const chosen = ref(keys(value.value))
const [from, to] = span(value.value) ?? ['', '']
const first = ref(from)
const last = ref(to)
const linked = ref<Linked[]>(links(value.value))
const held = ref(file(value.value))
const words = ref('')
const found = ref<Linked[]>([])
const choices = computed(() => ('choices' in props.field ? props.field.choices.filter((one) => !one.retired) : []))
/** A number field gives numbers, the others text. */
const said = computed(() => String(text.value).trim())
let over = false

const typed = computed<unknown>(() => {
  switch (props.field.type) {
    case 'number':
    case 'money':
      return said.value === '' ? null : Number(said.value)
    case 'date_range':
      return first.value ? `${first.value}/${last.value || first.value}` : null
    case 'choices':
      return chosen.value.length ? chosen.value : null
    case 'member':
      return said.value ? Number(said.value) : null
    case 'file':
      return held.value?.id ?? null
    case 'link':
      return linked.value.map((one) => one.id)
    default:
      return said.value === '' ? null : said.value
  }
})

function leave(keep: boolean, move?: 'down' | 'right' | 'left') {
  if (over) return
  over = true
  const ids = props.field.type === 'link' ? links(value.value).map((one) => one.id) : file(value.value)?.id
  const before = ids ?? value.value ?? null
  if (keep && JSON.stringify(typed.value) !== JSON.stringify(before)) void set(began, props.field.name, typed.value)
  emit('done', move)
}

function onKey(event: KeyboardEvent) {
  if (event.key === 'Escape') leave(false)
  else if (event.key === 'Enter' && !(event.shiftKey && props.field.type === 'long_text')) leave(true, 'down')
  else if (event.key === 'Tab' && !['date_range', 'choices', 'link', 'file'].includes(props.field.type))
    leave(true, event.shiftKey ? 'left' : 'right')
  else return event.stopPropagation()
  event.preventDefault()
  event.stopPropagation()
}

function onLeave(event: FocusEvent) {
  if (!place.value?.contains(event.relatedTarget as Node | null)) leave(true)
}

async function put(event: Event) {
  const given = (event.target as HTMLInputElement).files?.[0]
  if (!given) return
  try {
    held.value = await putIn(given)
    leave(true)
  } catch (error) {
    if (error instanceof ApiProblem) showProblem(error.body)
  }
}

async function look() {
  if (props.field.type !== 'link') return
  const to = props.field.to
  const title =
    to === 'feedback_item'
      ? 'text'
      : to === 'excerpt'
        ? 'words'
        : to === 'person' || to === 'account'
          ? 'name'
          : 'title'
  const filter = words.value.trim()
    ? { field: title, operator: 'contains' as const, value: words.value.trim() }
    : undefined
  const page = await fetchRows({ collection: to, product: product.value, query: { filter, fields: [] }, limit: 8 })
  found.value = page.rows
    .filter((row) => !linked.value.some((one) => one.id === row.id))
    .map((row) => ({ id: row.id, label: `${row.reference} ${row.title}`.trim() }))
}

function take(one: Linked) {
  place.value?.querySelector('input')?.focus()
  linked.value = linked.value.filter((other) => other.id !== one.id)
  void look()
}

function pick(one: Linked) {
  const many = props.field.type === 'link' && props.field.many
  linked.value = many ? [...linked.value, one] : [one]
  if (!many) return leave(true)
  // What was picked goes from the list, and the focus must not go with it.
  place.value?.querySelector('input')?.focus()
  void look()
}

onMounted(async () => {
  await nextTick()
  const field = place.value?.querySelector<HTMLInputElement>('input, select, textarea, button')
  field?.focus()
  if (props.start === undefined && field instanceof HTMLInputElement && field.type === 'text') field.select()
  void look()
})
</script>

<template>
  <div ref="place" class="editor" @keydown="onKey" @focusout="onLeave">
    <select
      v-if="field.type === 'choice'"
      v-model="text"
      class="form-select"
      :aria-label="field.label"
      @change="leave(true)"
    >
      <option value="">–</option>
      <option v-for="choice in choices" :key="choice.key" :value="choice.key">{{ choice.label }}</option>
    </select>
    <select
      v-else-if="field.type === 'member'"
      v-model="text"
      class="form-select"
      :aria-label="field.label"
      @change="leave(true)"
    >
      <option value="">nobody</option>
      <option v-for="one in team" :key="one.id" :value="String(one.id)">{{ one.name }}</option>
    </select>
    <div v-else-if="field.type === 'choices'" class="panel">
      <label v-for="choice in choices" :key="choice.key" class="line"
        ><input v-model="chosen" type="checkbox" :value="choice.key" /> {{ choice.label }}</label
      >
      <button type="button" class="btn btn-outline" @click="leave(true)">Save</button>
    </div>
    <div v-else-if="field.type === 'date_range'" class="panel">
      <label>from <input v-model="first" type="date" class="form-control" /></label>
      <label>to <input v-model="last" type="date" class="form-control" :min="first" /></label>
      <button type="button" class="btn btn-outline" @click="leave(true)">Save</button>
    </div>
    <div v-else-if="field.type === 'link'" class="panel">
      <div v-for="one in linked" :key="one.id" class="line">
        {{ one.label }}
        <button type="button" class="btn btn-plain" @click="take(one)">take away</button>
      </div>
      <input
        v-model="words"
        class="form-control"
        placeholder="words"
        :aria-label="`Find for ${field.label}`"
        @input="look"
      />
      <button v-for="one in found" :key="one.id" type="button" class="btn btn-plain found" @click="pick(one)">
        {{ one.label }}
      </button>
      <button type="button" class="btn btn-outline" @click="leave(true)">Save</button>
    </div>
    <div v-else-if="field.type === 'file'" class="panel">
      <label>A file, at most 10 MB <input type="file" class="form-control" @change="put" /></label>
      <button v-if="value" type="button" class="btn btn-plain" @click="((held = undefined), leave(true))">
        take it away
      </button>
      <button type="button" class="btn btn-outline" @click="leave(false)">Leave it</button>
    </div>
    <textarea
      v-else-if="field.type === 'long_text'"
      v-model="text"
      class="form-control long"
      rows="6"
      :aria-label="field.label"
    />
    <input
      v-else
      v-model="text"
      class="form-control"
      :type="field.type === 'date' ? 'date' : field.type === 'number' || field.type === 'money' ? 'number' : 'text'"
      step="any"
      :class="{ number: field.shape === 'number' }"
      :aria-label="field.label"
    />
  </div>
</template>

<style scoped>
.editor {
  left: -1px;
  min-width: calc(100% + 2px);
  position: absolute;
  top: -1px;
  z-index: 8;
}
.form-control,
.form-select {
  border-color: var(--ink);
  min-height: 35px;
}
.number {
  appearance: textfield;
}
.number::-webkit-inner-spin-button {
  display: none;
}
.long {
  min-width: 320px;
}
.panel {
  background: var(--panel);
  border: 1px solid var(--ink);
  border-radius: 6px;
  display: grid;
  gap: 4px;
  min-width: 240px;
  padding: 8px 10px;
  white-space: normal;
}
.line {
  align-items: baseline;
  display: flex;
  gap: 6px;
}
.found {
  text-align: left;
}
</style>
