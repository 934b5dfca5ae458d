<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ApiProblem, value } from '@/api/client'
import { takeOut, type FirstView, type SavedView } from '@/api/collections'
import { useMe, useRefresh } from '@/api/queries'
import { showProblem, useSave } from '@/api/save'
import { count } from '@/shared/words'
import PopPanel from '@/shared/PopPanel.vue'
import { useCollection } from './context'

/** The views of a collection by name, those that come with it first, and what can be done with the present one. */
const props = defineProps<{ views: readonly SavedView[]; firsts: readonly FirstView[]; name: string }>()
const { state, collection, product, definition, ask } = useCollection()
const { save } = useSave()
const refresh = useRefresh()
const { data: me } = useMe()
const mayShare = computed(() => me.value?.role === 'owner' || me.value?.role === 'editor')
const saving = ref(false)
const title = ref('')
const shared = ref(true)
const first = ref(false)
const calendar = ref('')

const open = computed(() => state.saved.value)
const mayChange = computed(() => open.value && (!open.value.shared || mayShare.value))

function begin(is: boolean) {
  saving.value = is
  if (!is) return
  title.value = ''
  shared.value = mayShare.value
  first.value = false
}

async function add() {
  const body = { name: title.value, shared: shared.value, opens_first: first.value, definition: definition.value }
  const params = { path: { collection: collection.value }, query: { product: product.value } }
  const saved = await save(value(api.POST('/api/v1/collections/{collection}/views', { params, body })))
  if (!saved?.thing) return
  saving.value = false
  await state.asSaved(saved.thing.id)
}

async function change(part: Partial<SavedView>) {
  const view = open.value
  if (!view) return
  const { name, shared, opens_first, position } = { ...view, ...part }
  const body = { name, shared, opens_first, position, definition: part.definition ?? view.definition }
  const params = { path: { id: view.id }, query: { rev: view.rev } }
  const saved = await save(value(api.PATCH('/api/v1/views/{id}', { params, body })))
  if (saved && part.definition) await state.asSaved(view.id)
}

async function remove() {
  const view = open.value
  if (!view) return
  const params = { path: { id: view.id }, query: { rev: view.rev } }
  if (await save(value(api.DELETE('/api/v1/views/{id}', { params })))) await state.open('')
}

/** Puts the view one place further to the left or the right. */
function move(by: number) {
  const at = props.views.findIndex((view) => view.id === open.value?.id)
  const [low, high] = by < 0 ? [props.views[at - 2], props.views[at - 1]] : [props.views[at + 1], props.views[at + 2]]
  if (!(by < 0 ? high : low)) return
  const position = low && high ? (low.position + high.position) / 2 : low ? low.position + 1 : (high?.position ?? 0) - 1
  void change({ position })
}

/** Does something that is no change of a thing, says what went wrong, and asks again for the views. */
async function attempt(act: () => Promise<unknown>) {
  try {
    await act()
    await refresh(['view'])
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    showProblem(error.body)
  }
}

function share(id: number) {
  return attempt(async () => {
    const { path } = await value(api.POST('/api/v1/views/{id}/calendar', { params: { path: { id } } }))
    calendar.value = location.origin + path
  })
}

function endShare(id: number) {
  return attempt(async () => {
    await value(api.DELETE('/api/v1/views/{id}/calendar', { params: { path: { id } } }))
    calendar.value = ''
  })
}

const out = (kind: 'csv' | 'xlsx' | 'json' | 'markdown') => attempt(() => takeOut(ask(), kind))
</script>

<template>
  <div class="bar">
    <nav class="views" :aria-label="`Views of ${name.toLowerCase()}`">
      <button
        v-for="view in firsts"
        :key="view.key"
        type="button"
        class="btn btn-plain view"
        :aria-current="state.key.value === view.key ? 'true' : undefined"
        :data-view="view.name"
        @click="state.open(view.key)"
      >
        {{ view.name }}
      </button>
      <button
        v-for="view in views"
        :key="view.id"
        type="button"
        class="btn btn-plain view"
        :aria-current="open?.id === view.id ? 'true' : undefined"
        :data-view="view.name"
        @click="state.open(view.id)"
      >
        {{ view.name }}<span v-if="!view.shared" class="quiet"> · mine</span>
      </button>
      <button
        v-if="firsts.length === 0"
        type="button"
        class="btn btn-plain view"
        :aria-current="state.key.value === 'none' ? 'true' : undefined"
        @click="state.open('none')"
      >
        All of them
      </button>
    </nav>
    <span class="row-flex acts">
      <template v-if="state.changed.value">
        <span class="small quiet">changed, not saved</span>
        <button v-if="mayChange" type="button" class="btn btn-plain" @click="change({ definition })">
          Save in “{{ open?.name }}”
        </button>
        <button type="button" class="btn btn-plain" @click="state.open(state.key.value)">Leave it</button>
      </template>
      <PopPanel :model-value="saving" label="Save as …" quiet @update:model-value="begin($event)">
        <form class="form" @submit.prevent="add">
          <label>Name of the view <input v-model="title" class="form-control" required maxlength="80" /></label>
          <label v-if="mayShare"><input v-model="shared" type="checkbox" /> everybody sees it</label>
          <label v-if="mayShare && shared"><input v-model="first" type="checkbox" /> opens first</label>
          <button type="submit" class="btn btn-primary">Save the view</button>
        </form>
      </PopPanel>
      <PopPanel v-if="open && mayChange" label="This view" quiet>
        <div class="form">
          <label
            >Name
            <input
              class="form-control"
              :value="open.name"
              maxlength="80"
              @change="change({ name: ($event.target as HTMLInputElement).value })"
          /></label>
          <div class="row-flex">
            <button type="button" class="btn btn-outline" @click="move(-1)">‹ earlier</button>
            <button type="button" class="btn btn-outline" @click="move(1)">later ›</button>
          </div>
          <button
            v-if="mayShare && open.shared && !open.opens_first"
            type="button"
            class="btn btn-plain"
            @click="change({ opens_first: true })"
          >
            Open {{ name.toLowerCase() }} with it
          </button>
          <template v-if="definition.from">
            <button type="button" class="btn btn-plain" @click="share(open.id)">Make a calendar link</button>
            <p v-if="calendar" class="small">
              Other programs can subscribe to this address. It is shown once; whoever has it sees this view.
              <input class="form-control" readonly :value="calendar" aria-label="Address of the calendar" />
            </p>
            <button v-if="open.calendar_links" type="button" class="btn btn-plain" @click="endShare(open.id)">
              End {{ count(open.calendar_links, 'calendar link') }}
            </button>
          </template>
          <button type="button" class="btn btn-plain" @click="remove">Remove the view</button>
        </div>
      </PopPanel>
      <PopPanel label="Take out" quiet>
        <div class="form">
          <p class="small quiet">All rows of this view, with the fields that it shows.</p>
          <button type="button" class="btn btn-outline" @click="out('csv')">CSV</button>
          <button type="button" class="btn btn-outline" @click="out('xlsx')">XLSX</button>
          <button type="button" class="btn btn-outline" @click="out('json')">JSON</button>
          <button type="button" class="btn btn-outline" @click="out('markdown')">Markdown</button>
        </div>
      </PopPanel>
    </span>
  </div>
</template>

<style scoped>
.bar {
  align-items: center;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  justify-content: space-between;
  padding: 6px 16px 0;
}
.views {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 8px;
}
.view {
  font-weight: 400;
  text-decoration-color: transparent;
}
.view[aria-current] {
  font-weight: 650;
  text-decoration-color: var(--kite);
  text-decoration-thickness: 2px;
}
.acts {
  gap: 4px 10px;
}
.form {
  display: grid;
  gap: 8px;
  justify-items: start;
}
.form p {
  margin: 0;
}
</style>
