<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, value, type Schemas } from '@/api/client'
import { fetchItems, useItems, useRefresh, useSources, type ItemFilter } from '@/api/queries'
import EmptyPlace from '@/shared/EmptyPlace.vue'
import { useSelection } from '@/shared/selection'
import StageFrame from '@/shared/StageFrame.vue'
import { day, whole } from '@/shared/words'
import ChosenBar from './ChosenBar.vue'
import ItemReader from './ItemReader.vue'
import { LISTEN } from '@/shared/tabs'

const { product, selected, select, isSelected } = useSelection()
const route = useRoute()
const router = useRouter()
const refresh = useRefresh()

const filter = computed<ItemFilter>(() => ({
  words: route.query.words ? String(route.query.words) : undefined,
  unread: route.query.unread === '1' || undefined,
  source: Number(route.query.source) || undefined,
}))
const { data: page, error, isPending } = useItems(product, filter)
const { data: sources } = useSources(product)

// Further pages are put behind the first; whatever asks for the first one anew begins again.
const more = ref<Schemas['ItemLine'][]>([])
const next = ref<string | null>()
watch(page, (first) => {
  more.value = []
  next.value = first?.next
})
const items = computed(() => [...(page.value?.items ?? []), ...more.value])
const loading = ref(false)

async function onScroll(event: Event) {
  const list = event.target as HTMLElement
  if (loading.value || !next.value || list.scrollTop + list.clientHeight < list.scrollHeight - 400) return
  loading.value = true
  const further = await fetchItems(product.value, filter.value, next.value).finally(() => (loading.value = false))
  more.value.push(...further.items)
  next.value = further.next
}

const search = (set: Record<string, string | undefined>) => router.replace({ query: { ...route.query, ...set } })
const typed = (event: Event) => (event.target as HTMLInputElement).value || undefined

const open = ref<number>()
watch(
  [selected, () => items.value[0]?.id],
  ([thing, first]) => {
    if (thing?.kind === 'feedback_item') open.value = thing.id
    else if (thing?.kind === 'excerpt') void openExcerpt(thing.id)
    else open.value ??= first
  },
  { immediate: true },
)

async function openExcerpt(id: number) {
  if (chosen.value.includes(id)) return
  const trace = await value(api.GET('/api/v1/trace/{kind}/{id}', { params: { path: { kind: 'excerpt', id } } })).catch(
    () => undefined,
  )
  const item = trace?.why.find((group) => group.sort === 'feedback_item')?.lines[0]
  if (item) open.value = item.thing.id
}

watch(open, async (id) => {
  if (id === undefined || items.value.find((item) => item.id === id)?.read) return
  await api.POST('/api/v1/listen/items/{id}/reading', { params: { path: { id } } })
  // The list may have come in the meantime.
  const line = items.value.find((item) => item.id === id)
  if (line) line.read = true
  await refresh([])
})

const chosen = ref<number[]>([])

/** What is read is also seen in the list, wherever somebody came from. */
watch(
  [open, () => items.value.length],
  () => document.getElementById(`item-${open.value}`)?.scrollIntoView({ block: 'nearest' }),
  { flush: 'post' },
)
const empty = computed(() => page.value?.all === 0)

function step(by: number) {
  const at = items.value.findIndex((item) => item.id === open.value)
  const to = items.value[Math.min(items.value.length - 1, Math.max(0, at + by))]
  if (!to) return
  select('feedback_item', to.id)
  document.getElementById(`item-${to.id}`)?.focus()
}
</script>

<template>
  <StageFrame :tabs="LISTEN" :busy="isPending" :problem="error?.message">
    <template #tools>
      <span v-if="page" class="small quiet">{{ whole(page.all) }} items</span>
      <RouterLink class="btn btn-primary" :to="{ name: 'bring-in' }">Bring in feedback</RouterLink>
    </template>
    <EmptyPlace v-if="empty" title="Nothing has come in yet">
      Feedback is what people gave you: reviews, tickets, notes. Bring in a table of it; each row becomes one item, and
      each item is split into what it says.
      <template #steps
        ><RouterLink class="btn btn-primary" :to="{ name: 'bring-in' }">Bring in a file</RouterLink></template
      >
    </EmptyPlace>
    <div v-else class="columns">
      <section class="items" aria-label="Feedback items">
        <div class="filter">
          <label>
            <span class="visually-hidden">Words</span>
            <input
              class="form-control"
              type="search"
              placeholder="words"
              :value="filter.words"
              @change="search({ words: typed($event) })"
            />
          </label>
          <label>
            <span class="visually-hidden">Source</span>
            <select class="form-select" :value="filter.source ?? ''" @change="search({ source: typed($event) })">
              <option value="">all sources</option>
              <option v-for="source in sources" :key="source.id" :value="source.id">{{ source.name }}</option>
            </select>
          </label>
          <label class="unread"
            ><input
              type="checkbox"
              :checked="filter.unread"
              @change="search({ unread: filter.unread ? undefined : '1' })"
            />
            unread</label
          >
        </div>
        <ul @scroll.passive="onScroll" @keydown.down.prevent="step(1)" @keydown.up.prevent="step(-1)">
          <li v-for="item in items" :key="item.id">
            <button
              :id="`item-${item.id}`"
              type="button"
              class="item"
              :class="{ on: item.id === open || isSelected('feedback_item', item.id), unread: !item.read }"
              @click="select('feedback_item', item.id)"
            >
              <span class="text">{{ item.text }}</span>
              <span class="small quiet">
                <b v-if="!item.read">unread · </b>F{{ item.id }} · {{ item.person ?? 'nameless'
                }}<template v-if="item.said_on"> · {{ day(item.said_on) }}</template
                ><template v-if="item.used"> · {{ item.used }} of {{ item.excerpts }} used</template>
              </span>
            </button>
          </li>
          <li v-if="items.length === 0 && page" class="quiet none">
            Nothing fits. Take a word away, or show all sources.
          </li>
        </ul>
      </section>
      <ItemReader v-if="open" :id="open" v-model="chosen" class="reader" />
    </div>
    <ChosenBar v-if="chosen.length" v-model="chosen" />
  </StageFrame>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: minmax(260px, 2fr) 3fr;
  height: 100%;
  min-height: 0;
}
.items {
  border-right: 1px solid var(--rule);
  display: grid;
  grid-template-rows: auto 1fr;
  min-height: 0;
}
.filter {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  padding: 8px 12px;
}
.filter label {
  flex: 1 1 90px;
}
.filter .unread {
  align-items: center;
  display: flex;
  flex: none;
  gap: 5px;
}
.unread input {
  accent-color: var(--ink);
  height: 18px;
  width: 18px;
}
ul {
  list-style: none;
  margin: 0;
  overflow: auto;
  padding: 0;
}
.item {
  background: transparent;
  border: 0;
  border-bottom: 1px solid var(--rule);
  color: inherit;
  display: block;
  padding: 8px 16px;
  text-align: left;
  width: 100%;
}
.item.on {
  background: var(--panel);
  box-shadow:
    inset 0 1.5px var(--ink),
    inset 0 -1.5px var(--ink);
}
.text {
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  display: -webkit-box;
  line-clamp: 2;
  overflow: hidden;
}
.item.unread .text {
  font-weight: 600;
}
.item:focus-visible {
  outline-offset: -2px;
}
.reader {
  overflow: auto;
}
.none {
  padding: 16px;
}
@media (max-width: 760px) {
  .columns {
    grid-template-columns: 1fr;
    height: auto;
  }
  .items ul {
    max-height: 40vh;
  }
}
</style>
