<script setup lang="ts">
import { ref, watch } from 'vue'
import { api, value } from '@/api/client'
import { fetchRows } from '@/api/collections'
import { useSave } from '@/api/save'
import PopPanel from '@/shared/PopPanel.vue'
import { useSelection } from '@/shared/selection'

/** Sends chosen excerpts on: behind an idea, into a document, onto a page. */
const props = defineProps<{ excerpts: readonly number[] }>()
const emit = defineEmits<{ done: [] }>()
const { product } = useSelection()
const { save } = useSave()
const open = ref(false)
const words = ref('')
const PLACES = [
  { kind: 'idea', name: 'Ideas' },
  { kind: 'document', name: 'Documents' },
  { kind: 'page', name: 'Pages' },
] as const
type Place = (typeof PLACES)[number]['kind']
const found = ref<{ name: string; kind: Place; rows: { id: number; label: string }[] }[]>([])
const FEW = 6

async function look() {
  const asked = words.value.trim()
  const filter = asked ? { field: 'title', operator: 'contains' as const, value: asked } : undefined
  const all = PLACES.map(async ({ kind, name }) => {
    const query = { filter, fields: [], order: [] }
    const page = await fetchRows({ collection: kind, product: product.value, query, limit: FEW })
    const rows = page.rows.map((row) => ({ id: row.id, label: `${row.reference} ${row.title}`.trim() }))
    return { name, kind, rows }
  })
  const places = (await Promise.all(all)).filter((place) => place.rows.length)
  // A later question may have been answered already.
  if (asked === words.value.trim()) found.value = places
}
watch(open, (is) => is && void look())

async function quote(kind: Place, id: number) {
  const body = { excerpts: [...props.excerpts], to: { kind, id } }
  if (!(await save(value(api.POST('/api/v1/listen/quotes', { body }))))) return
  open.value = false
  emit('done')
}
</script>

<template>
  <PopPanel v-model="open" label="Quote in …">
    <input
      v-model="words"
      class="form-control"
      aria-label="Words of an idea, a document or a page"
      placeholder="an idea, a document, a page"
      @input="look"
    />
    <section v-for="place in found" :key="place.kind" :aria-label="place.name">
      <h4 class="small quiet">{{ place.name }}</h4>
      <button
        v-for="row in place.rows"
        :key="row.id"
        type="button"
        class="btn btn-plain"
        @click="quote(place.kind, row.id)"
      >
        {{ row.label }}
      </button>
    </section>
    <p v-if="!found.length" class="small quiet none">There is none of this name.</p>
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
