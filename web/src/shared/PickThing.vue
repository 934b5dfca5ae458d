<script setup lang="ts">
import { ref, watch } from 'vue'
import { fetchRows, titleField, type Collection, type Filter } from '@/api/collections'
import PopPanel from './PopPanel.vue'
import { useSelection } from './selection'

/** A word that opens a search for one thing of some sorts; what is found is picked. */
interface Found {
  id: number
  title: string
  label: string
}
const props = defineProps<{
  label: string
  /** What the search is for, in words. */
  search: string
  places: readonly { kind: Collection; name: string; of?: Filter }[]
  /** Things of the first sort that cannot be picked. */
  without?: readonly number[]
  shortcut?: string
}>()
const emit = defineEmits<{ pick: [kind: Collection, id: number, title: string] }>()
const { product } = useSelection()
const open = ref(false)
const words = ref('')
const found = ref<{ name: string; kind: Collection; rows: Found[] }[]>([])
const FEW = 8

async function look() {
  const asked = words.value.trim()
  const limit = props.places.length === 1 ? FEW : FEW / 2
  const all = props.places.map(async ({ kind, name, of }, at) => {
    const named = asked ? [{ field: titleField(kind), operator: 'contains' as const, value: asked }] : []
    const filter = { and: of ? [of, ...named] : named }
    const hidden = at === 0 ? (props.without ?? []) : []
    const ask = { collection: kind, product: product.value, query: { filter, fields: [], order: [] } }
    const page = await fetchRows({ ...ask, limit: limit + hidden.length })
    const rows = page.rows.filter((row) => !hidden.includes(row.id)).slice(0, limit)
    return {
      name,
      kind,
      rows: rows.map(({ id, reference, title }) => ({ id, title, label: `${reference} ${title}`.trim() })),
    }
  })
  const places = (await Promise.all(all)).filter((place) => place.rows.length)
  // A later question may have been answered already.
  if (asked === words.value.trim()) found.value = places
}
watch(open, (is) => {
  words.value = ''
  if (is) void look()
})

function pick(kind: Collection, one: Found) {
  open.value = false
  emit('pick', kind, one.id, one.title)
}

/** Arrows go from the field into what was found, and through it. */
function step(event: KeyboardEvent) {
  const panel = event.currentTarget as HTMLElement
  const all = [...panel.querySelectorAll<HTMLElement>('input, section button')]
  const at = all.indexOf(document.activeElement as HTMLElement) + (event.key === 'ArrowDown' ? 1 : -1)
  all[at]?.focus()
}
</script>

<template>
  <PopPanel v-model="open" :label="label" :shortcut="shortcut">
    <div @keydown.up.down.prevent="step">
      <input v-model="words" class="form-control" :aria-label="search" :placeholder="search" @input="look" />
      <section v-for="place in found" :key="place.kind" :aria-label="place.name">
        <h4 v-if="places.length > 1" class="small quiet">{{ place.name }}</h4>
        <button
          v-for="row in place.rows"
          :key="row.id"
          type="button"
          class="btn btn-plain"
          @click="pick(place.kind, row)"
        >
          {{ row.label }}
        </button>
      </section>
      <p v-if="!found.length" class="small quiet none">There is none of this name.</p>
    </div>
  </PopPanel>
</template>

<style scoped>
h4 {
  font-size: 13px;
  margin: 8px 0 2px;
}
.btn {
  display: block;
  max-width: 360px;
  overflow: hidden;
  text-align: left;
  text-overflow: ellipsis;
  white-space: nowrap;
  width: 100%;
}
.none {
  margin: 8px 0 0;
}
</style>
