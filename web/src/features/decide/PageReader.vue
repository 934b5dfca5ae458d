<script setup lang="ts">
import { reactive, ref } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useFoundPage } from '@/api/queries'
import { useSave } from '@/api/save'

/** A page of somebody else's: words that are chosen in it become a note, and stay its words. */
const props = defineProps<{ id: number; market: Schemas['Market'] }>()
const { save } = useSave()
const { data: page } = useFoundPage(() => props.id)
const field = ref<HTMLTextAreaElement>()
const form = reactive({ words: '', competitor: 0, capability: 0, offers: '' as Schemas['Offers'] | '' })

/** In a field words are chosen with the mouse and with the keyboard alike; it takes nothing in. Browsers give a field that is marked
 * as read-only no caret, so that the arrows would do nothing. */
function choose() {
  const at = field.value
  form.words = at ? at.value.slice(at.selectionStart, at.selectionEnd).trim() : ''
  form.competitor ||= page.value?.competitor_id ?? 0
}
async function note() {
  const body = {
    competitor_id: form.competitor,
    capability_id: form.capability || null,
    offers: form.offers || null,
    words: form.words,
    page_id: props.id,
    source: null,
    noted_on: null,
  }
  if (await save(value(api.POST('/api/v1/decide/market/notes', { body }))))
    Object.assign(form, { words: '', capability: 0, offers: '' })
}
</script>

<template>
  <div v-if="page">
    <textarea
      ref="field"
      class="form-control"
      rows="8"
      aria-readonly="true"
      :aria-label="`${page.title}: choose words to note them`"
      :value="page.text"
      @beforeinput.prevent
      @select="choose"
    ></textarea>
    <form v-if="form.words" class="row-flex" @submit.prevent="note">
      <blockquote class="small">“{{ form.words }}”</blockquote>
      <select v-model="form.competitor" class="form-select" aria-label="Whose offer it is about" required>
        <option v-for="one in market.competitors" :key="one.id" :value="one.id">{{ one.name }}</option>
      </select>
      <select v-model="form.capability" class="form-select" aria-label="What of it">
        <option :value="0">of no capability yet</option>
        <option v-for="one in market.capabilities" :key="one.id" :value="one.id">{{ one.title }}</option>
      </select>
      <select v-model="form.offers" class="form-select" aria-label="How far they do it">
        <option value="">says nothing of how far</option>
        <option value="none">none</option>
        <option value="partly">partly</option>
        <option value="fully">fully</option>
      </select>
      <button type="submit" class="btn btn-primary" :disabled="!form.competitor">Note these words</button>
    </form>
    <p v-else class="small quiet">Choose words in it, with the mouse or with Shift and the arrows, to note them.</p>
  </div>
</template>

<style scoped>
form {
  flex-wrap: wrap;
  margin: 6px 0;
}
blockquote {
  flex-basis: 100%;
  margin: 0;
}
.form-select {
  max-width: 240px;
  width: auto;
}
</style>
