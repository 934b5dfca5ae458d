<script setup lang="ts">
import { reactive, ref } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { readFoundPage } from '@/api/files'
import { useSave } from '@/api/save'
import { useSelection } from '@/shared/selection'
import { day } from '@/shared/words'
import PageReader from './PageReader.vue'

/** Pages of others: pasted, uploaded or found; each is read, and its words become notes. */
defineProps<{ market: Schemas['Market'] }>()
const { product } = useSelection()
const { save } = useSave()
const opened = ref<number>()
const adding = ref(false)
const form = reactive({ title: '', address: '', text: '', competitor_id: 0 })

async function take(field: HTMLInputElement) {
  const file = field.files?.[0]
  field.value = ''
  if (!file) return
  const read = await save(readFoundPage(file).then((page) => ({ ...page, saved: NOTHING })))
  if (read) Object.assign(form, { title: read.title, text: read.text })
}
async function keep() {
  const body = {
    product_id: product.value,
    title: form.title,
    address: form.address || null,
    text: form.text,
    competitor_id: form.competitor_id || null,
  }
  const saved = await save(value(api.POST('/api/v1/decide/market/pages', { body })))
  if (!saved?.thing) return
  Object.assign(form, { title: '', address: '', text: '', competitor_id: 0 })
  adding.value = false
  opened.value = saved.thing.id
}
</script>

<script lang="ts">
/** Reading a file changes nothing. */
const NOTHING: Schemas['Saved'] = { change: null, label: '', thing: null, rev: null }
</script>

<template>
  <section data-pages>
    <h2>Pages of others</h2>
    <ul>
      <li v-for="page in market.pages" :key="page.id">
        <button
          type="button"
          class="btn btn-plain"
          :aria-expanded="opened === page.id"
          @click="opened = opened === page.id ? undefined : page.id"
        >
          {{ page.title }}
        </button>
        <span class="small quiet">{{ page.address }} · {{ day(page.taken_on) }}</span>
        <PageReader v-if="opened === page.id" :id="page.id" :market="market" />
      </li>
      <li v-if="!market.pages.length" class="quiet">No page yet.</li>
    </ul>
    <button v-if="!adding" type="button" class="btn btn-outline" @click="adding = true">Add a page</button>
    <form v-else @submit.prevent="keep">
      <div class="row-flex">
        <input
          v-model="form.title"
          class="form-control"
          aria-label="Title of the page"
          placeholder="its title"
          required
        />
        <input v-model="form.address" class="form-control" aria-label="Address of the page" placeholder="its address" />
        <select v-model="form.competitor_id" class="form-select" aria-label="Whose page it is">
          <option :value="0">of nobody named</option>
          <option v-for="one in market.competitors" :key="one.id" :value="one.id">{{ one.name }}</option>
        </select>
      </div>
      <textarea
        v-model="form.text"
        class="form-control"
        rows="5"
        aria-label="Text of the page"
        placeholder="paste its text"
        required
      ></textarea>
      <div class="row-flex">
        <label class="btn btn-outline file"
          >Take a file <input class="visually-hidden" type="file" @change="take($event.target as HTMLInputElement)"
        /></label>
        <button type="submit" class="btn btn-primary">Keep the page</button>
        <button type="button" class="btn btn-plain" @click="adding = false">Not now</button>
      </div>
    </form>
  </section>
</template>

<style scoped>
section {
  position: relative;
}
h2 {
  font-size: 16px;
}
ul {
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
}
form {
  display: grid;
  gap: 8px;
}
</style>
