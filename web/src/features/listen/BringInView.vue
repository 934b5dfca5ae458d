<script setup lang="ts">
import { computed, ref } from 'vue'
import { useAttempt } from '@/api/attempt'
import { api, value, type Schemas } from '@/api/client'
import { useRows } from '@/api/collections'
import { putDown } from '@/api/files'
import { useRefresh } from '@/api/queries'
import { useSelection } from '@/shared/selection'
import StageFrame from '@/shared/StageFrame.vue'
import { LISTEN } from '@/shared/tabs'
import { count } from '@/shared/words'
import ChannelList from './ChannelList.vue'
import FilePart from './FilePart.vue'
import JobList from './JobList.vue'
import { countsOf, type Given } from './given'

/** Files are put down and looked at; nothing is written before somebody has seen what it would do. */
const { product } = useSelection()
const refresh = useRefresh()
const attempt = useAttempt()
const { data: studyRows } = useRows(() => ({
  collection: 'study' as const,
  product: product.value,
  query: { fields: ['title'], order: [{ field: 'title' }], group: [], totals: [] },
}))
const studies = computed(() => (studyRows.value?.rows ?? []).map((row) => ({ id: row.id, label: row.title })))
const given = ref<Given[]>([])
const looking = ref<string[]>([])
const takeChanged = ref(false)
const starting = ref(false)
const started = ref<number>()

async function look(files: FileList | null | undefined) {
  const all = [...(files ?? [])]
  await Promise.all(
    all.map(async (file) => {
      looking.value.push(file.name)
      const found = await attempt(() => putDown(file, product.value))
      looking.value = looking.value.filter((name) => name !== file.name)
      if (found) given.value.push(...givenOf(found))
    }),
  )
}

const givenOf = (found: Schemas['PutDown']): Given[] =>
  found.parts.map((view, part) => ({
    file: found.id,
    part,
    view,
    columns: view.holds === 'table' ? { ...view.proposed } : undefined,
    take: view.holds !== 'refused',
    cover: view.covers,
    counts: countsOf(view),
  }))

/** Looks at a file anew, with a part of it read as somebody says; what was decided about the others stays. */
async function readAnew(of: Given, how: Schemas['HowRead']) {
  const body = { file: of.file, part: of.view.name, how }
  const found = await attempt(() => value(api.POST('/api/v1/listen/files/read', { body })))
  if (!found) return
  const before = given.value.filter((one) => one.file === of.file)
  const kept = (one: Given) => {
    const old = before.find(({ view }) => view.name === one.view.name && view.name !== of.view.name)
    return old ? { ...old, part: one.part } : one
  }
  const at = given.value.findIndex((one) => one.file === of.file)
  const rest = given.value.filter((one) => one.file !== of.file)
  given.value = [...rest.slice(0, at), ...givenOf(found).map(kept), ...rest.slice(at)]
}

/** The same file can be chosen again. */
function pick(field: HTMLInputElement) {
  void look(field.files)
  field.value = ''
}

const taken = computed(() => given.value.filter((one) => one.take && one.view.holds !== 'refused'))
const sum = (name: keyof Schemas['Counts']) => taken.value.reduce((all, one) => all + one.counts[name], 0)
const fresh = computed(() => sum('new'))
const changed = computed(() => sum('changed'))

async function bringIn() {
  const parts = taken.value.map((one) => ({
    file: one.file,
    part: one.part,
    columns: one.columns ?? null,
    cover: one.cover,
    study: one.study ?? null,
  }))
  const body = { product: product.value, parts, take_changed: takeChanged.value }
  starting.value = true
  const job = await attempt(() => value(api.POST('/api/v1/listen/imports', { body }))).finally(
    () => (starting.value = false),
  )
  if (!job) return
  given.value = []
  started.value = job.id
  takeChanged.value = false
  await refresh([])
}
</script>

<template>
  <StageFrame :tabs="LISTEN" :busy="looking.length > 0">
    <div class="bring">
      <label class="drop" @dragover.prevent @drop.prevent="look($event.dataTransfer?.files)">
        <b>Choose files of feedback, or drop them here</b>
        <span class="quiet"
          >Tables (CSV, XLSX, XLS, ODS, JSON), documents (text, Markdown, HTML, DOCX, PDF), captions of a recording
          (WebVTT, SRT), mails (.eml, mbox), and ZIPs of these. Nothing is written before you have seen it.</span
        >
        <input type="file" multiple @change="pick($event.target as HTMLInputElement)" />
      </label>
      <p v-if="looking.length" role="status">Looking into {{ looking.join(', ') }} …</p>
      <section v-if="given.length" aria-label="Preview">
        <FilePart
          v-for="one in given"
          :key="`${one.file} ${one.part}`"
          :given="one"
          :studies="studies"
          @change="Object.assign(one, $event)"
          @read="readAnew(one, $event)"
        />
        <div class="row-flex go">
          <button type="button" class="btn btn-primary" :disabled="taken.length === 0 || starting" @click="bringIn">
            Bring in {{ count(fresh, 'item') }}
          </button>
          <label v-if="changed"
            ><input v-model="takeChanged" type="checkbox" /> give {{ count(changed, 'changed row') }} the new
            words</label
          >
          <button type="button" class="btn btn-plain" @click="given = []">Leave it</button>
          <span class="quiet small">It runs in the background, and can be undone as a whole.</span>
        </div>
      </section>
      <ChannelList @look="started = $event" />
      <JobList :started="started" />
    </div>
  </StageFrame>
</template>

<style scoped>
.bring {
  max-width: 1100px;
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
.go {
  flex-wrap: wrap;
  margin-top: 14px;
}
</style>
