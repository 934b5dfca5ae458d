<script setup lang="ts">
import { computed, reactive } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useSave } from '@/api/save'
import KiteMark from '@/shared/KiteMark.vue'
import { day } from '@/shared/words'

/** The notes behind one cell of the comparison, and one more. */
const props = defineProps<{ market: Schemas['Market']; capability: number; competitor: number }>()
const emit = defineEmits<{ close: [] }>()
const { save } = useSave()
const title = computed(() => {
  const what = props.market.capabilities.find((one) => one.id === props.capability)?.title ?? ''
  const who = props.market.competitors.find((one) => one.id === props.competitor)?.name ?? ''
  return `${who}: ${what}`
})
const notes = computed(() =>
  props.market.notes.filter((one) => one.capability_id === props.capability && one.competitor_id === props.competitor),
)
const form = reactive({ words: '', source: '', offers: '' as Schemas['Offers'] | '' })

async function note() {
  const body = {
    competitor_id: props.competitor,
    capability_id: props.capability,
    words: form.words,
    source: form.source,
    offers: form.offers || null,
    page_id: null,
    noted_on: null,
  }
  if (await save(value(api.POST('/api/v1/decide/market/notes', { body }))))
    Object.assign(form, { words: '', source: '', offers: '' })
}
function takeAway(one: Schemas['MarketNote']) {
  const params = { path: { kind: 'competitor_note' as const, id: one.id }, query: { rev: one.rev } }
  return save(value(api.DELETE('/api/v1/things/{kind}/{id}', { params })))
}
</script>

<template>
  <section :aria-label="title" data-notes>
    <div class="row-flex">
      <h2>{{ title }}</h2>
      <button type="button" class="btn btn-plain" @click="emit('close')">Close</button>
    </div>
    <ul>
      <li v-for="one in notes" :key="one.id">
        <blockquote dir="auto">{{ one.page_id == null ? one.words : `“${one.words}”` }}</blockquote>
        <span class="small quiet">
          <template v-if="one.offers"><KiteMark :state="one.offers" /> · </template>{{ one.from }} ·
          {{ day(one.noted_on) }}
        </span>
        <button type="button" class="btn btn-plain" @click="takeAway(one)">take away</button>
      </li>
      <li v-if="!notes.length" class="quiet">Nothing was noted yet. Unknown is not none.</li>
    </ul>
    <form class="row-flex" @submit.prevent="note">
      <input v-model="form.words" class="form-control grow" aria-label="The remark" placeholder="a remark" required />
      <input
        v-model="form.source"
        class="form-control grow"
        aria-label="Where it comes from"
        placeholder="where it comes from: a talk, a visit"
        required
      />
      <select v-model="form.offers" class="form-select" aria-label="How far they do it">
        <option value="">says nothing of how far</option>
        <option value="none">none</option>
        <option value="partly">partly</option>
        <option value="fully">fully</option>
      </select>
      <button type="submit" class="btn btn-outline">Note it</button>
    </form>
  </section>
</template>

<style scoped>
section {
  border: 1px solid var(--rule);
  border-radius: 6px;
  margin: 10px 0;
  padding: 8px 14px 12px;
}
h2 {
  flex: 1;
  font-size: 16px;
  margin: 0;
}
ul {
  list-style: none;
  margin: 6px 0;
  padding: 0;
}
blockquote {
  margin: 6px 0 0;
}
form {
  flex-wrap: wrap;
}
.grow {
  flex: 1 1 200px;
}
.form-select {
  width: auto;
}
</style>
