<script setup lang="ts">
import { computed, ref, shallowRef, watchEffect } from 'vue'
import { api, value } from '@/api/client'
import { useRows } from '@/api/collections'
import { useSave } from '@/api/save'
import type { RowView } from '@/api/collections'
import { useCollection } from './context'
import { useRights } from '@/shared/rights'
import { DETAILS } from './details'
import { useSelection } from '@/shared/selection'
import { shown } from './model'
import ThingField from './ThingField.vue'

/** The selected thing opened beside its view: what its stage shows of it, and its fields to be edited. */
const props = defineProps<{ id: number }>()
const { collection, product, fields } = useCollection()
const { save } = useSave()
const { mayRemove } = useRights()
const { whole, setWhole } = useSelection()
const folded = ref(localStorage.getItem(FOLDED) === 'yes')

const detail = computed(() => DETAILS[collection.value])
const editable = computed(() =>
  shown(fields.value).filter(
    (field) => (field.editable || field.withheld || field.own) && !detail.value?.edits?.includes(field.name),
  ),
)
const wanted = computed(() => [...new Set([...editable.value.map((one) => one.name), ...(detail.value?.fields ?? [])])])
const { data, isPlaceholderData } = useRows(() => ({
  collection: collection.value,
  product: product.value,
  query: { fields: wanted.value, order: [], group: [], totals: [] },
  only: [props.id],
}))
/** The thing as it was seen last: what somebody types does not go with a thing that others remove. */
const last = shallowRef<RowView>()
watchEffect(() => {
  const row = data.value?.rows[0]
  if (row) last.value = row
  else if (last.value?.id !== props.id) last.value = undefined
})
const gone = computed(() => data.value?.rows.length === 0 && !isPlaceholderData.value && last.value?.id === props.id)
/** The answer of the last thing stays until that of this one is there. */
const row = computed(() => (gone.value && removed.value === props.id ? undefined : (data.value?.rows[0] ?? last.value)))
/** What was removed from here, and is not to be looked at any more. */
const removed = ref<number>()

function fold() {
  folded.value = !folded.value
  if (folded.value && whole.value) void setWhole(false)
  localStorage.setItem(FOLDED, folded.value ? 'yes' : 'no')
}

async function remove(id: number, rev: number) {
  removed.value = id
  const done = await save(
    value(
      api.DELETE('/api/v1/things/{kind}/{id}', {
        params: { path: { kind: collection.value, id }, query: { rev } },
      }),
    ),
  )
  if (!done) removed.value = undefined
}
</script>

<script lang="ts">
const FOLDED = 'iron-kite-thing-folded'
</script>

<template>
  <section v-if="row" class="pane" :class="{ folded, whole }" :aria-label="`${row.reference} ${row.title}`" data-thing>
    <header>
      <h2>
        <span class="quiet">{{ row.reference }}</span> {{ row.title }}
      </h2>
      <button
        v-if="mayRemove(collection) && !folded && !gone"
        type="button"
        class="btn btn-plain"
        @click="remove(row.id, row.rev)"
      >
        Remove {{ row.reference || 'it' }}
      </button>
      <button
        v-if="detail && !folded"
        type="button"
        class="btn btn-plain"
        :aria-pressed="whole"
        @click="setWhole(!whole)"
      >
        {{ whole ? 'Beside the list' : 'Whole page' }}
      </button>
      <button type="button" class="btn btn-plain" :aria-expanded="!folded" @click="fold">
        {{ folded ? 'Open' : 'Fold' }}
      </button>
    </header>
    <p v-if="gone" class="gone small" role="alert">
      <b>{{ row.reference || 'It' }} is not there any more.</b> Somebody removed it. What you had typed still stands
      here; its history can bring it back.
      <button type="button" class="btn btn-plain" @click="removed = row.id">Close</button>
    </p>
    <div v-if="!folded" class="inside" :class="{ alone: !detail }">
      <component :is="detail.component" v-if="detail" :row="row" class="stage" />
      <dl v-if="editable.length" aria-label="Fields">
        <ThingField v-for="field in editable" :key="field.name" :field="field" :row="row" />
      </dl>
    </div>
  </section>
</template>

<style scoped>
.pane {
  --ground: var(--panel);

  background: var(--panel);
  border-top: 1.5px solid var(--quiet);
  display: flex;
  flex: 0 0 46%;
  flex-direction: column;
  min-height: 0;
}
.pane.folded {
  flex: none;
}
.pane.whole {
  flex: 1 1 100%;
}
.beside > .pane {
  border-left: 1px solid var(--rule);
  border-top: 0;
  flex: 3 1 0;
  min-width: 0;
}
.beside > .pane.folded {
  flex: 0 0 220px;
}
header {
  align-items: baseline;
  display: flex;
  gap: 10px;
  padding: 8px 16px 4px;
}
h2 {
  flex: 1;
  font-size: 16px;
  margin: 0;
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.gone {
  border: 1px solid var(--ink);
  border-radius: 6px;
  margin: 0 16px 8px;
  padding: 4px 10px;
}
.inside {
  align-content: start;
  display: grid;
  flex: 1;
  gap: 4px 24px;
  grid-template-columns: minmax(0, 3fr) minmax(220px, 2fr);
  min-height: 0;
  overflow: auto;
  padding: 0 16px 56px;
  scroll-padding-bottom: 52px;
  position: relative;
}
.inside.alone,
.beside .inside {
  grid-template-columns: minmax(0, 1fr);
}
dl {
  align-content: start;
  display: grid;
  grid-template-columns: minmax(90px, auto) minmax(0, 1fr);
  margin: 0;
}
.alone dl {
  grid-template-columns: repeat(auto-fill, minmax(110px, 160px) minmax(160px, 1fr));
}
@media (max-width: 760px) {
  .inside {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
