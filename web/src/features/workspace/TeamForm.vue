<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useTeam } from '@/api/collections'
import { useSave } from '@/api/save'

/** A team: its name, its columns under its own names, and who belongs to it. */
const props = defineProps<{ team?: Schemas['TeamView']; mayRemove?: boolean }>()
const emit = defineEmits<{ done: [] }>()
const { save } = useSave()
const { data: everybody } = useTeam()
const STATES = {
  handed_over: 'handed over',
  in_build: 'in build',
  in_check: 'in check',
  done: 'done',
} as const
type State = keyof typeof STATES
interface Column {
  id?: number
  title: string
  state: State
}
const FIRST: Column[] = [
  { title: 'To do', state: 'handed_over' },
  { title: 'Building', state: 'in_build' },
  { title: 'Checking', state: 'in_check' },
  { title: 'Done', state: 'done' },
]
const name = ref(props.team?.name ?? '')
const columns = ref<Column[]>(
  props.team?.columns.map((one) => ({ id: one.id, title: one.title, state: one.state as State })) ??
    FIRST.map((one) => ({ ...one })),
)
const people = ref<number[]>([...(props.team?.people ?? [])])
const arrives = computed(() => columns.value.some((one) => one.state === 'handed_over'))

function move(at: number, by: number) {
  const [one] = columns.value.splice(at, 1)
  if (one) columns.value.splice(at + by, 0, one)
}

async function send() {
  const body = { name: name.value, columns: columns.value }
  const team = props.team
  const saved = team
    ? await save(
        value(
          api.PUT('/api/v1/handover/teams/{id}', {
            params: { path: { id: team.id } },
            body: { ...body, rev: team.rev },
          }),
        ),
      )
    : await save(value(api.POST('/api/v1/handover/teams', { body })))
  if (!saved) return
  const id = team?.id ?? saved.thing?.id
  const before = new Set(team?.people ?? [])
  const same = people.value.length === before.size && people.value.every((one) => before.has(one))
  if (id !== undefined && !same) {
    const put = api.PUT('/api/v1/handover/teams/{id}/people', {
      params: { path: { id } },
      body: { people: people.value },
    })
    if (!(await save(value(put)))) return
  }
  emit('done')
}

async function remove() {
  const { id, rev } = props.team as Schemas['TeamView']
  const params = { path: { id }, query: { rev } }
  if (await save(value(api.DELETE('/api/v1/handover/teams/{id}', { params })))) emit('done')
}
</script>

<template>
  <form @submit.prevent="send" @keydown.esc="emit('done')">
    <label>Name <input v-model="name" class="form-control" required maxlength="80" /></label>
    <fieldset>
      <legend>Columns of its queue, from left to right</legend>
      <ol>
        <li v-for="(one, at) in columns" :key="one.id ?? `new ${at}`">
          <input
            v-model="one.title"
            class="form-control"
            :aria-label="`Name of column ${at + 1}`"
            required
            maxlength="80"
          />
          <select v-model="one.state" class="form-select" :aria-label="`What stands in column ${at + 1}`">
            <option v-for="(words, state) in STATES" :key="state" :value="state">{{ words }}</option>
          </select>
          <button
            type="button"
            class="btn btn-plain"
            :disabled="at === 0"
            :aria-label="`To the left: ${one.title}`"
            @click="move(at, -1)"
          >
            ↑
          </button>
          <button
            type="button"
            class="btn btn-plain"
            :disabled="at === columns.length - 1"
            :aria-label="`To the right: ${one.title}`"
            @click="move(at, 1)"
          >
            ↓
          </button>
          <button
            type="button"
            class="btn btn-plain"
            :aria-label="`Take away the column ${one.title}`"
            @click="columns.splice(at, 1)"
          >
            ×
          </button>
        </li>
      </ol>
      <button type="button" class="btn btn-plain" @click="columns.push({ title: '', state: 'in_build' })">
        + another column
      </button>
      <p v-if="!arrives" role="alert">One column must stand for “handed over”: that is where stories arrive.</p>
    </fieldset>
    <fieldset>
      <legend>Who belongs to it</legend>
      <label v-for="one in everybody" :key="one.id" class="row-flex">
        <input v-model="people" type="checkbox" :value="one.id" /> {{ one.name }}
      </label>
    </fieldset>
    <div class="row-flex">
      <button type="submit" class="btn btn-primary" :disabled="!arrives">{{ team ? 'Save' : 'Add the team' }}</button>
      <button type="button" class="btn btn-plain" @click="emit('done')">Leave it</button>
      <button v-if="team && mayRemove" type="button" class="btn btn-outline spacer" @click="remove">Remove it</button>
    </div>
  </form>
</template>

<style scoped>
form {
  border-left: 3px solid var(--rule);
  display: grid;
  gap: 12px;
  margin: 8px 0;
  padding-left: 14px;
}
label {
  display: grid;
  gap: 2px;
}
label.row-flex {
  display: flex;
}
fieldset {
  border: 0;
  margin: 0;
  padding: 0;
}
legend {
  font-size: 14px;
  font-weight: 600;
  margin: 0 0 4px;
}
ol {
  display: grid;
  gap: 6px;
  list-style: none;
  margin: 0;
  padding: 0;
}
ol li {
  border: 0;
  display: grid;
  gap: 4px;
  grid-template-columns: minmax(90px, 1fr) minmax(110px, 150px) auto auto auto;
  padding: 0;
}
</style>
