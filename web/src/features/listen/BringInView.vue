<script setup lang="ts">
import { ref, shallowRef } from 'vue'
import { ApiProblem, type Schemas } from '@/api/client'
import { importFile, previewFile, type Columns } from '@/api/files'
import { showProblem, useSave } from '@/api/save'
import { useSelection } from '@/shared/selection'
import StageFrame from '@/shared/StageFrame.vue'
import { count } from '@/shared/words'
import ColumnChoice from './ColumnChoice.vue'
import ImportResult from './ImportResult.vue'
import { LISTEN } from '@/shared/tabs'

const { product } = useSelection()
const { save } = useSave()
const file = shallowRef<File>()
const preview = ref<Schemas['Preview']>()
const columns = ref<Columns>({ text: 0 })
const report = ref<Schemas['ImportReport']>()
const busy = ref('')

async function look(chosen: File | undefined) {
  if (!chosen) return
  file.value = chosen
  preview.value = report.value = undefined
  busy.value = `Looking into ${chosen.name} …`
  try {
    preview.value = await previewFile(chosen)
    columns.value = { ...preview.value.proposed }
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    showProblem(error.body)
  } finally {
    busy.value = ''
  }
}

async function bringIn() {
  if (!file.value) return
  busy.value = `Bringing in ${count(preview.value?.count ?? 0, 'row')} …`
  const done = await save(importFile(file.value, product.value, columns.value)).finally(() => (busy.value = ''))
  if (done) {
    report.value = done.report
    preview.value = undefined
  }
}
</script>

<template>
  <StageFrame :tabs="LISTEN" :busy="busy !== ''">
    <div class="bring">
      <label class="drop" @dragover.prevent @drop.prevent="look($event.dataTransfer?.files[0])">
        <b>Choose a table of feedback, or drop it here</b>
        <span class="quiet"
          >CSV with any separator: one row for each thing that somebody said. Nothing is written before you have seen
          it.</span
        >
        <input
          type="file"
          accept=".csv,.tsv,.txt,text/csv,text/plain,text/tab-separated-values"
          @change="look(($event.target as HTMLInputElement).files?.[0])"
        />
      </label>
      <p v-if="busy" role="status">{{ busy }}</p>
      <section v-if="preview && file" aria-label="Preview">
        <h2>{{ file.name }}</h2>
        <p class="quiet">
          {{ count(preview.count, 'row') }} can be read<template v-if="preview.left_out"
            >, {{ preview.left_out }} cannot</template
          >. Read as {{ preview.encoding }}, separated by
          {{ preview.separator === '\t' ? 'tabs' : `“${preview.separator}”` }}. Which column is what is suggested from
          the headings; change what is wrong.
        </p>
        <ColumnChoice v-model="columns" :preview="preview" />
        <div class="row-flex go">
          <button type="button" class="btn btn-primary" :disabled="busy !== ''" @click="bringIn">
            Bring in {{ count(preview.count, 'row') }}
          </button>
          <span class="quiet small">It can be undone as a whole.</span>
        </div>
      </section>
      <ImportResult v-if="report" :report="report" />
    </div>
  </StageFrame>
</template>

<style scoped>
.bring {
  padding: 16px;
}
.drop {
  border: 1px dashed var(--field);
  border-radius: 6px;
  display: grid;
  gap: 6px;
  max-width: 720px;
  padding: 18px;
}
h2 {
  font-size: 17px;
  margin: 20px 0 4px;
}
.go {
  margin-top: 14px;
}
</style>
