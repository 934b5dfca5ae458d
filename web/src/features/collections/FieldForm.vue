<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useCollections, useFields, type Collection, type FieldDef } from '@/api/collections'
import { useSave } from '@/api/save'
import { useCollection } from './context'
import FieldConversion from './FieldConversion.vue'
import { shown } from './model'
import PathChoice from './PathChoice.vue'

/** A field that the team adds or changes. */
const props = defineProps<{ field?: FieldDef }>()
const emit = defineEmits<{ made: [id: number]; done: [] }>()
const { collection, fields } = useCollection()
const { save } = useSave()
const { data: collections } = useCollections()

type Type = FieldDef['type']
const TYPES: readonly (readonly [Type, string])[] = [
  ['text', 'text'],
  ['long_text', 'long text'],
  ['number', 'number'],
  ['money', 'money'],
  ['date', 'date'],
  ['date_range', 'from a date to a date'],
  ['yes_no', 'yes or no'],
  ['choice', 'one choice'],
  ['choices', 'several choices'],
  ['member', 'person of the team'],
  ['link', 'link to another collection'],
  ['web_address', 'web address'],
  ['file', 'file or picture'],
  ['rolled_up', 'computed over linked things'],
]
// Drawings come with the product.
const MEASURES: readonly (readonly [Schemas['Measure'], string])[] = [
  ['count', 'how many'],
  ['sum', 'sum'],
  ['mean', 'mean'],
  ['median', 'median'],
  ['min', 'smallest'],
  ['max', 'largest'],
  ['share_done', 'share done'],
]

const label = ref(props.field?.label ?? '')
const type = ref<Type>(props.field?.type ?? 'text')
const unit = ref(props.field?.type === 'number' ? (props.field.unit ?? '') : '')
const choices = ref<Schemas['Choice'][]>(
  props.field && 'choices' in props.field ? props.field.choices.map((one) => ({ ...one })) : [{ key: '', label: '' }],
)
const to = ref<Collection>(props.field?.type === 'link' ? props.field.to : 'idea')
const many = ref(props.field?.type === 'link' ? props.field.many : true)
const backLabel = ref('')
const backMany = ref(true)
const path = ref<string[]>(props.field?.type === 'rolled_up' ? [...props.field.path] : [])
const measure = ref<Schemas['Measure']>(props.field?.type === 'rolled_up' ? props.field.measure : 'count')
const of = ref(props.field?.type === 'rolled_up' ? (props.field.of ?? '') : '')

/** The collection at the end of the path, whose fields a figure is computed of. */
const end = ref<Collection>(collection.value)
const { data: last } = useFields(end)

const kind = computed<Schemas['FieldType']>(() => {
  switch (type.value) {
    case 'number':
      return { type: 'number', unit: unit.value || null }
    case 'choice':
    case 'choices':
      return { type: type.value, choices: choices.value.filter((one) => one.key || one.label.trim()) }
    case 'link':
      return { type: 'link', to: to.value, many: many.value, back: null, forward: true }
    case 'rolled_up':
      return { type: 'rolled_up', path: path.value.filter(Boolean), measure: measure.value, of: of.value || null }
    default:
      return { type: type.value } as Schemas['FieldType']
  }
})

async function submit() {
  const input = { label: label.value, ...kind.value, back_label: backLabel.value || null, back_many: backMany.value }
  const write = props.field
    ? api.PATCH('/api/v1/fields/{id}', {
        params: { path: { id: props.field.own as number }, query: { rev: props.field.rev as number } },
        body: input,
      })
    : api.POST('/api/v1/collections/{collection}/fields', {
        params: { path: { collection: collection.value } },
        body: input,
      })
  const saved = await save(value(write))
  if (saved?.thing) emit('made', saved.thing.id)
}

function move(at: number, by: number) {
  const next = [...choices.value]
  const [taken] = next.splice(at, 1)
  if (taken) next.splice(Math.max(0, at + by), 0, taken)
  choices.value = next
}

/** Among the fields of the team, whose order every new view takes. */
async function earlier() {
  const own = fields.value.filter((one) => one.own)
  const at = own.findIndex((one) => one.own === props.field?.own)
  const params = { path: { id: props.field?.own as number } }
  const body = { rev: props.field?.rev as number, before: own[at - 1]?.own ?? null }
  if (at > 0 && (await save(value(api.POST('/api/v1/fields/{id}/place', { params, body }))))) emit('done')
}

async function retire() {
  const params = { path: { id: props.field?.own as number } }
  const body = { rev: props.field?.rev as number, retired: true }
  if (await save(value(api.POST('/api/v1/fields/{id}/retired', { params, body })))) emit('done')
}
</script>

<template>
  <form class="form" data-field-form @submit.prevent="submit">
    <label>Name <input v-model="label" class="form-control" maxlength="80" required /></label>
    <label v-if="!field"
      >What it is
      <select v-model="type" class="form-select">
        <option v-for="[name, words] in TYPES" :key="name" :value="name">{{ words }}</option>
      </select>
    </label>
    <label v-if="type === 'number'"
      >In what <input v-model="unit" class="form-control" placeholder="days" maxlength="40"
    /></label>
    <fieldset v-if="type === 'choice' || type === 'choices'">
      <legend class="small quiet">Choices, in their order</legend>
      <div v-for="(choice, at) in choices" :key="at" class="row-flex">
        <input
          v-model="choice.label"
          class="form-control"
          :aria-label="`Choice ${at + 1}`"
          maxlength="80"
          :class="{ quiet: choice.retired }"
        />
        <button type="button" class="btn btn-plain" :aria-label="`Choice ${at + 1} further up`" @click="move(at, -1)">
          ↑
        </button>
        <button v-if="choice.key" type="button" class="btn btn-plain" @click="choice.retired = !choice.retired">
          {{ choice.retired ? 'bring back' : 'retire' }}
        </button>
        <button v-else type="button" class="btn btn-plain" @click="choices.splice(at, 1)">take away</button>
      </div>
      <button type="button" class="btn btn-plain" @click="choices.push({ key: '', label: '' })">one more choice</button>
    </fieldset>
    <template v-if="type === 'link' && !field">
      <label
        >To
        <select v-model="to" class="form-select">
          <option v-for="one in collections" :key="one.name" :value="one.name">{{ one.label }}</option>
        </select>
      </label>
      <label><input v-model="many" type="checkbox" /> may lead to several</label>
      <label>What the other side calls it <input v-model="backLabel" class="form-control" maxlength="80" /></label>
      <label><input v-model="backMany" type="checkbox" /> may be led to by several</label>
    </template>
    <template v-if="type === 'rolled_up'">
      <PathChoice :from="collection" :path="path" :left="4" @change="path = $event" @end="end = $event" />
      <label
        >What
        <select v-model="measure" class="form-select">
          <option v-for="[name, words] in MEASURES" :key="name" :value="name">{{ words }}</option>
        </select>
      </label>
      <label v-if="measure !== 'count' && measure !== 'share_done'"
        >of
        <select v-model="of" class="form-select" required>
          <option
            v-for="one in shown(last ?? []).filter((one) => one.shape === 'number')"
            :key="one.name"
            :value="one.name"
          >
            {{ one.label }}
          </option>
        </select>
      </label>
    </template>
    <div class="row-flex">
      <button type="submit" class="btn btn-primary">{{ field ? 'Save the field' : 'Add the field' }}</button>
      <button type="button" class="btn btn-outline" @click="emit('done')">Leave it</button>
      <button
        v-if="field && fields.filter((one) => one.own)[0]?.own !== field.own"
        type="button"
        class="btn btn-plain"
        @click="earlier"
      >
        Put it before the field above it
      </button>
      <button v-if="field" type="button" class="btn btn-plain spacer" @click="retire">
        Retire it, keep its values
      </button>
    </div>
    <FieldConversion
      v-if="field && !['link', 'rolled_up', 'file'].includes(type)"
      :field="field"
      :types="TYPES"
      @done="emit('done')"
    />
  </form>
</template>

<style scoped>
.form {
  display: grid;
  gap: 8px;
}
fieldset {
  display: grid;
  gap: 4px;
  justify-items: start;
}
.row-flex .form-control {
  max-width: 220px;
}
</style>
