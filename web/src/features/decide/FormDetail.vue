<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, value, type Schemas } from '@/api/client'
import type { RowView } from '@/api/collections'
import { useForm } from '@/api/queries'
import { useSave } from '@/api/save'
import FormQuestion from './FormQuestion.vue'

/** The questions of a request form, who may fill it in, and its link. */
type Field = Schemas['FormField']
const props = defineProps<{ row: RowView }>()
const { save } = useSave()
const router = useRouter()
const { data: form } = useForm(() => props.row.id)
const fields = ref<Field[]>([])
const open = ref(false)
watch(
  form,
  (now) => {
    fields.value = (now?.fields ?? []).map((field) => ({ ...field, choices: [...(field.choices ?? [])] }))
    open.value = now?.open ?? false
  },
  { immediate: true },
)
const place = computed(() => ({ name: 'form', params: { key: form.value?.key ?? '' } }))
const address = computed(() => new URL(router.resolve(place.value).href, location.href).href)
const changed = computed(
  () => JSON.stringify([fields.value, open.value]) !== JSON.stringify([form.value?.fields, form.value?.open]),
)

function add() {
  const taken = new Set(fields.value.map((field) => field.key))
  let n = fields.value.length + 1
  while (taken.has(`q${n}`)) n += 1
  fields.value.push({ key: `q${n}`, asks: 'line', label: '', help: null, must: false, choices: [] })
}
function move(at: number, by: number) {
  const [field] = fields.value.splice(at, 1)
  if (field) fields.value.splice(at + by, 0, field)
}
async function keep() {
  if (!form.value) return
  const params = { path: { id: props.row.id } }
  const body = { rev: form.value.rev, fields: fields.value, open: open.value }
  await save(value(api.PATCH('/api/v1/decide/forms/{id}', { params, body })))
}
</script>

<template>
  <form v-if="form" data-form @submit.prevent="keep">
    <p>
      <RouterLink :to="place" target="_blank">{{ address }}</RouterLink>
      <span class="small quiet who">
        {{ form.open ? 'for anybody who has the link' : 'for whoever is signed in here' }}</span
      >
    </p>
    <label class="row-flex"><input v-model="open" type="checkbox" /> Anybody with the link may fill it in</label>
    <ol aria-label="Questions">
      <li v-for="(field, n) in fields" :key="field.key">
        <FormQuestion
          v-model="fields[n]!"
          :first="n === 0"
          :last="n === fields.length - 1"
          @up="move(n, -1)"
          @down="move(n, 1)"
          @remove="fields.splice(n, 1)"
        />
      </li>
    </ol>
    <div class="row-flex">
      <button type="button" class="btn btn-outline" @click="add">Another question</button>
      <button type="submit" class="btn btn-primary" :disabled="!changed">Keep the form so</button>
    </div>
  </form>
</template>

<style scoped>
ol {
  list-style: none;
  margin: 8px 0;
  padding: 0;
}
.who {
  margin-left: 6px;
}
p {
  overflow-wrap: anywhere;
}
</style>
