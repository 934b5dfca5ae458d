<script setup lang="ts">
import { computed, nextTick, onBeforeUnmount, onMounted, ref } from 'vue'
import { ApiProblem } from '@/api/client'
import { fetchRows, titleField, type FieldDef, type RowView } from '@/api/collections'
import { putIn } from '@/api/files'
import { showProblem } from '@/api/save'
import { useCollection } from './context'
import { file, keys, links, span, type Linked } from './text'

/**
 * Edits one value in place. Enter and leaving save, Escape does not. What is typed to begin with is where words and numbers
 * begin, and what is looked for among people, choices and links.
 */
const props = defineProps<{ field: FieldDef; row: RowView; start?: string }>()
const emit = defineEmits<{ done: [move?: 'down' | 'right' | 'left'] }>()
const { set, team, product } = useCollection()
/** What stood here when somebody began: what others change meanwhile is a conflict, and not passed over. */
const began = props.row
const value = computed(() => began.values[props.field.name])
const place = ref<HTMLElement>()
/** Whether a choice or a person is looked for by the words that somebody began to type. */
const searches = props.start !== undefined && ['choice', 'member'].includes(props.field.type)
/** A day is chosen, and not begun with a letter. */
const begins = searches || props.field.type === 'date' ? undefined : props.start
const text = ref<string | number>(begins ?? (value.value == null ? '' : String(value.value)))
const chosen = ref(keys(value.value))
const [from, to] = span(value.value) ?? ['', '']
const first = ref(from)
const last = ref(to)
const linked = ref<Linked[]>(links(value.value))
const held = ref(file(value.value))
const words = ref(searches || props.field.type === 'link' ? (props.start ?? '') : '')
const found = ref<Linked[]>([])
const choices = computed(() => ('choices' in props.field ? props.field.choices.filter((one) => !one.retired) : []))
/** The choices or the people that the words fit. */
const fitting = computed(() => {
  const all =
    props.field.type === 'member'
      ? (team.value ?? []).map((one) => ({ key: String(one.id), label: one.name }))
      : choices.value.map(({ key, label }) => ({ key, label }))
  const asked = words.value.trim().toLowerCase()
  return all.filter((one) => one.label.toLowerCase().includes(asked))
})
/** What is typed. */
const said = computed(() => String(text.value).trim())
let over = false

const typed = computed<unknown>(() => {
  switch (props.field.type) {
    case 'number':
    case 'money':
      return said.value === '' ? null : (numberIn(said.value) ?? null)
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

/** A number as people type it: with a comma for a point, or commas between thousands. */
function numberIn(words: string): number | undefined {
  const plain = words.replaceAll(/[\s'’]/g, '').replace('−', '-')
  const thousands = /^[-+]?\d{1,3}(,\d{3})+(\.\d*)?$/.test(plain)
  const number = Number(thousands ? plain.replaceAll(',', '') : plain.replace(',', '.'))
  return Number.isFinite(number) ? number : undefined
}

/** What cannot be read as a number or a day is left out, and the value stays. */
function understood(): boolean {
  const isNumber = props.field.type === 'number' || props.field.type === 'money'
  const bad = place.value?.querySelector('input')?.validity.badInput
  if (isNumber ? said.value === '' || numberIn(said.value) !== undefined : !bad) return true
  const kind = isNumber ? 'number' : 'day'
  showProblem({
    code: 'invalid',
    detail: `${props.field.label} stays as it was.`,
    faults: [],
    status: 422,
    title: `This is no ${kind}`,
    type: 'about:blank',
  })
  return false
}

function settle(key: string) {
  text.value = key
  leave(true, 'down')
}

function leave(keep: boolean, move?: 'down' | 'right' | 'left') {
  if (over) return
  if (keep && !understood()) keep = false
  over = true
  const ids = props.field.type === 'link' ? links(value.value).map((one) => one.id) : file(value.value)?.id
  const before = ids ?? value.value ?? null
  if (keep && JSON.stringify(typed.value) !== JSON.stringify(before)) void set(began, props.field.name, typed.value)
  emit('done', move)
}

// What is typed while its row is drawn away is saved, or told where that cannot be.
onBeforeUnmount(() => leave(true))

function onKey(event: KeyboardEvent) {
  if (event.key === 'Escape') leave(false)
  else if (searches && event.key === 'Enter') {
    // On one of those that were found, it is that one; in the field, the first.
    const on = (event.target as HTMLElement).dataset.key ?? fitting.value[0]?.key
    if (on !== undefined) settle(on)
  } else if (searches && (event.key === 'ArrowDown' || event.key === 'ArrowUp')) {
    const all = [...(place.value?.querySelectorAll<HTMLElement>('input, .found') ?? [])]
    const at = all.indexOf(document.activeElement as HTMLElement) + (event.key === 'ArrowDown' ? 1 : -1)
    all[at]?.focus()
  } else if (event.key === 'Enter' && !(event.shiftKey && props.field.type === 'long_text')) leave(true, 'down')
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
  const filter = words.value.trim()
    ? { field: titleField(to), operator: 'contains' as const, value: words.value.trim() }
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
    <div v-if="searches" class="panel">
      <input v-model="words" class="form-control" :aria-label="`Find for ${field.label}`" />
      <button
        v-for="one in fitting"
        :key="one.key"
        type="button"
        class="btn btn-plain found"
        :data-key="one.key"
        @click="settle(one.key)"
      >
        {{ one.label }}
      </button>
      <p v-if="!fitting.length" class="small quiet none">Nothing is called so; Escape leaves it as it is.</p>
    </div>
    <select
      v-else-if="field.type === 'choice'"
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
      :type="field.type === 'date' ? 'date' : 'text'"
      :inputmode="field.type === 'number' || field.type === 'money' ? 'decimal' : undefined"
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
  text-align: right;
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
.none {
  margin: 0;
}
</style>
