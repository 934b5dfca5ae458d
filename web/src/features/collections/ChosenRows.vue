<script setup lang="ts">
import { computed, ref } from 'vue'
import type { RowView } from '@/api/collections'
import { api, value as valueOf } from '@/api/client'
import { useSave } from '@/api/save'
import { count } from '@/shared/words'
import { useCollection } from './context'
import { fieldOf, shown } from './model'

/** Several rows that were chosen: one field of all of them is set at once. */
const props = defineProps<{ chosen: Map<number, RowView> }>()
const { fields, team, setAll, collection, product } = useCollection()
const { save } = useSave()
const name = ref('')
const text = ref('')
const simple = computed(() =>
  shown(fields.value).filter(
    (field) => field.editable && !['link', 'choices', 'date_range', 'long_text'].includes(field.type),
  ),
)
const field = computed(() => fieldOf(fields.value, name.value))
const value = computed<unknown>(() => {
  if (text.value === '') return null
  const type = field.value?.type
  if (type === 'number' || type === 'money' || type === 'member') return Number(text.value)
  return type === 'yes_no' ? text.value === 'yes' : text.value
})

/** People and accounts that came in under several names become the first of them, and so do findings that say the same. */
const first = computed(() => [...props.chosen.values()][0])
const mergeable = computed(() => ['person', 'account', 'finding'].includes(collection.value) && props.chosen.size > 1)

const report = computed(() => ({
  name: 'report',
  params: { product: product.value },
  query: { findings: [...props.chosen.keys()].join(',') },
}))

async function merge() {
  const [keep, ...others] = [...props.chosen.keys()]
  if (keep === undefined) return
  const kind = collection.value === 'person' ? 'person' : 'account'
  const merged =
    collection.value === 'finding'
      ? api.POST('/api/v1/listen/findings/merge', { body: { keep, others } })
      : api.POST('/api/v1/listen/merge', { body: { kind, keep, others } })
  if (await save(valueOf(merged))) props.chosen.clear()
}

/** What is said of all the chosen findings. */
const standing = (state: 'accepted' | 'thrown_out') => {
  name.value = 'state'
  text.value = state
  return apply()
}

/** Two findings that no run is to make one. */
async function neverTogether() {
  const [one, other] = [...props.chosen.keys()]
  if (one === undefined || other === undefined) return
  const body = {
    kind: 'not_same' as const,
    from: { kind: 'finding' as const, id: one },
    to: { kind: 'finding' as const, id: other },
  }
  if (await save(valueOf(api.POST('/api/v1/links', { body })))) props.chosen.clear()
}

async function apply() {
  const changes = [...props.chosen.values()].map((row) => ({
    id: row.id,
    rev: row.rev,
    set: { [name.value]: value.value },
  }))
  if (await setAll(changes)) props.chosen.clear()
}
</script>

<template>
  <form class="bar" data-chosen @submit.prevent="apply">
    <b>{{ count(chosen.size, 'row') }} chosen</b>
    <button v-if="mergeable && first" type="button" class="btn btn-outline" aria-keyshortcuts="Alt+M" @click="merge">
      Merge into {{ first.title }}
    </button>
    <template v-if="collection === 'finding'">
      <button type="button" class="btn btn-outline" aria-keyshortcuts="Alt+A" @click="standing('accepted')">
        Accept
      </button>
      <button type="button" class="btn btn-outline" aria-keyshortcuts="Alt+T" @click="standing('thrown_out')">
        Throw out
      </button>
      <button
        v-if="chosen.size === 2"
        type="button"
        class="btn btn-outline"
        aria-keyshortcuts="Alt+X"
        @click="neverTogether"
      >
        Never together
      </button>
      <RouterLink class="btn btn-outline" :to="report" aria-keyshortcuts="Alt+O">Make a report</RouterLink>
    </template>
    <label>
      <span class="visually-hidden">Field to set</span>
      <select v-model="name" class="form-select" required @change="text = ''">
        <option value="">set …</option>
        <option v-for="one in simple" :key="one.name" :value="one.name">{{ one.label }}</option>
      </select>
    </label>
    <label v-if="field">
      <span class="visually-hidden">New value of {{ field.label }}</span>
      <select v-if="field.type === 'choice'" v-model="text" class="form-select">
        <option value="">nothing</option>
        <option v-for="choice in field.choices" :key="choice.key" :value="choice.key">{{ choice.label }}</option>
      </select>
      <select v-else-if="field.type === 'member'" v-model="text" class="form-select">
        <option value="">nobody</option>
        <option v-for="one in team" :key="one.id" :value="String(one.id)">{{ one.name }}</option>
      </select>
      <select v-else-if="field.type === 'yes_no'" v-model="text" class="form-select">
        <option value="">no</option>
        <option value="yes">yes</option>
      </select>
      <input
        v-else
        v-model="text"
        class="form-control"
        :type="field.type === 'date' ? 'date' : ['number', 'money'].includes(field.type) ? 'number' : 'text'"
        step="any"
        placeholder="nothing"
      />
    </label>
    <button type="submit" class="btn btn-primary" :disabled="!field">Set</button>
    <button type="button" class="btn btn-plain spacer" @click="chosen.clear()">Choose none</button>
  </form>
</template>

<style scoped>
.bar {
  align-items: center;
  background: var(--panel);
  border-bottom: 1.5px solid var(--ink);
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  padding: 8px 16px;
}
</style>
