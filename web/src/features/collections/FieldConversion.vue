<script setup lang="ts">
import { ref, watch } from 'vue'
import { api, ApiProblem, value, type Schemas } from '@/api/client'
import type { FieldDef } from '@/api/collections'
import { showProblem, useSave } from '@/api/save'
import { count } from '@/shared/words'

/** Carrying a field to another type: what would be lost is shown first. */
const props = defineProps<{ field: FieldDef; types: readonly (readonly [FieldDef['type'], string])[] }>()
const emit = defineEmits<{ done: [] }>()
const { save } = useSave()
const to = ref('')
const preview = ref<Schemas['ConversionPreview']>()

const kind = () => ({ type: to.value, unit: null, choices: [] }) as unknown as Schemas['FieldType']
const params = () => ({ path: { id: props.field.own as number } })

watch(to, async () => {
  preview.value = undefined
  if (!to.value) return
  try {
    preview.value = await value(api.POST('/api/v1/fields/{id}/conversion/preview', { params: params(), body: kind() }))
  } catch (error) {
    if (error instanceof ApiProblem) showProblem(error.body)
  }
})

async function convert() {
  const query = { rev: props.field.rev as number }
  const write = api.POST('/api/v1/fields/{id}/conversion', { params: { ...params(), query }, body: kind() })
  if (await save(value(write))) emit('done')
}
</script>

<template>
  <div class="conversion">
    <label
      >Make it another type
      <select v-model="to" class="form-select">
        <option value="">keep it as it is</option>
        <option
          v-for="[name, words] in types.filter(([name]) => !['link', 'rolled_up', 'file', field.type].includes(name))"
          :key="name"
          :value="name"
        >
          {{ words }}
        </option>
      </select>
    </label>
    <template v-if="preview">
      <p class="small">
        {{ count(preview.values, 'value') }},
        {{ preview.lost === 0 ? 'all of them fit' : `${preview.lost} would not be carried over whole` }}. It can be
        undone.
      </p>
      <table v-if="preview.examples.length" class="small">
        <thead>
          <tr>
            <th scope="col">now</th>
            <th scope="col">then</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="lost in preview.examples" :key="lost.id">
            <td>{{ lost.text }}</td>
            <td>{{ lost.becomes ?? 'nothing' }}</td>
          </tr>
        </tbody>
      </table>
      <button type="button" class="btn btn-outline" @click="convert">Carry it over</button>
    </template>
  </div>
</template>

<style scoped>
.conversion {
  border-top: 1px solid var(--rule);
  padding-top: 8px;
}
th,
td {
  padding: 1px 14px 1px 0;
}
</style>
