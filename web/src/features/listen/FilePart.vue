<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ApiProblem, value, type Schemas } from '@/api/client'
import type { Columns } from '@/api/files'
import { showProblem } from '@/api/save'
import type { Linked } from '../collections/text'
import { count, day, whole } from '@/shared/words'
import ColumnChoice from './ColumnChoice.vue'
import ReadOtherwise from './ReadOtherwise.vue'
import type { Given } from './given'

/** A part of a file: what it holds, what taking it would do, and for a table which column is what. */
const props = defineProps<{ given: Given; studies: readonly Linked[] }>()
const emit = defineEmits<{ change: [part: Partial<Given>]; read: [how: Schemas['HowRead']] }>()
const view = computed(() => props.given.view)
const counting = ref(false)

const counts = computed(() => {
  const { new: fresh, same, changed, left_out } = props.given.counts
  return [
    `${whole(fresh)} new`,
    same ? `${whole(same)} there already` : '',
    changed ? `${whole(changed)} changed` : '',
    left_out ? `${whole(left_out)} cannot be taken` : '',
  ]
    .filter(Boolean)
    .join(' · ')
})

/** Takes what somebody decided, and counts again what taking the part so would do. */
async function choose(columns: Columns, cover = props.given.cover) {
  emit('change', { columns, cover })
  counting.value = true
  try {
    const body = { file: props.given.file, part: props.given.part, columns, cover }
    emit('change', { counts: await value(api.POST('/api/v1/listen/files/counts', { body })) })
  } catch (error) {
    if (error instanceof ApiProblem) showProblem(error.body)
  } finally {
    counting.value = false
  }
}

function setCover(cover: boolean) {
  if (props.given.columns) void choose(props.given.columns, cover)
  else emit('change', { cover })
}
</script>

<template>
  <section class="part" :aria-label="view.name" :data-part="view.name">
    <h2>
      <label v-if="view.holds !== 'refused'"
        ><input
          type="checkbox"
          :checked="given.take"
          @change="emit('change', { take: ($event.target as HTMLInputElement).checked })"
        />
        <span>{{ view.name }}</span></label
      >
      <span v-else>{{ view.name }}</span>
      <span v-if="view.holds === 'table' || view.holds === 'documents'" class="small quiet" data-counts>{{
        counting ? 'counting …' : counts
      }}</span>
    </h2>
    <label v-if="view.holds === 'table' || view.holds === 'documents'" class="small quiet"
      ><input type="checkbox" :checked="given.cover" @change="setCover(($event.target as HTMLInputElement).checked)" />
      cover mail addresses, telephone, card and account numbers in the words</label
    >
    <label v-if="studies.length && (view.holds === 'table' || view.holds === 'documents')" class="small quiet study"
      >said in the study
      <select
        class="form-select"
        :value="given.study ?? ''"
        @change="emit('change', { study: Number(($event.target as HTMLSelectElement).value) || undefined })"
      >
        <option value="">none</option>
        <option v-for="one in studies" :key="one.id" :value="one.id">{{ one.label }}</option>
      </select></label
    >
    <ReadOtherwise v-if="view.can_say_how" :view="view" @read="emit('read', $event)" />
    <p v-if="view.holds === 'refused'" class="hatch refused">{{ view.words }}</p>
    <p v-else-if="view.holds === 'wordless'" class="quiet">
      This is {{ view.what }}. It is kept as it is; no text is read from it.
    </p>
    <template v-else-if="view.holds === 'table' && given.columns">
      <p class="quiet small">
        Read as {{ view.read_as }}. Which column is what is
        {{
          view.remembered
            ? 'remembered from an earlier file'
            : view.headed
              ? 'suggested from headings and values'
              : 'suggested from the values'
        }}; change what is wrong.
      </p>
      <ul v-if="view.doubts.length" class="doubts small" aria-label="To be looked at">
        <li v-for="doubt in view.doubts" :key="doubt.row">
          Row {{ whole(doubt.row) }} {{ doubt.reason }}.
          <button
            v-if="doubt.reason.includes('quotation mark')"
            type="button"
            class="btn btn-plain"
            @click="emit('read', { ...view.how, quotes: false })"
          >
            Read them as they stand
          </button>
        </li>
      </ul>
      <ColumnChoice :model-value="given.columns" :preview="view" @update:model-value="choose" />
    </template>
    <ul v-else-if="view.holds === 'documents'">
      <li v-for="(document, n) in view.documents" :key="n">
        <b>{{ document.title || 'without a title' }}</b>
        <span class="small quiet">
          {{ count(document.words, 'word') }}<template v-if="document.person"> · {{ document.person }}</template
          ><template v-if="document.said_on"> · {{ day(document.said_on) }}</template
          ><template v-if="document.speakers.length"> · speakers: {{ document.speakers.join(', ') }}</template>
        </span>
        <div class="beginning" dir="auto">{{ document.beginning }}</div>
        <div v-for="note in document.notes" :key="note" class="small quiet">{{ note }}</div>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.part {
  border-top: 1px solid var(--rule);
  margin-top: 16px;
  padding-top: 10px;
}
h2 {
  align-items: baseline;
  display: flex;
  flex-wrap: wrap;
  font-size: 16px;
  gap: 12px;
  margin: 0 0 4px;
}
h2 .small {
  font-family: inherit;
  font-weight: 400;
}
label {
  align-items: baseline;
  display: inline-flex;
  gap: 8px;
  margin-right: 18px;
}
p {
  margin: 0 0 6px;
}
.refused {
  border: 1px solid var(--ink);
  max-width: 720px;
  padding: 4px 10px;
}
ul {
  display: grid;
  gap: 8px;
  list-style: none;
  margin: 0;
  max-width: 720px;
  padding: 0;
}
ul.doubts {
  border-left: 3px solid var(--ink);
  gap: 2px;
  margin: 0 0 8px;
  padding-left: 10px;
}
.beginning {
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  display: -webkit-box;
  line-clamp: 2;
  overflow: hidden;
}
input[type='checkbox'] {
  height: 17px;
  width: 17px;
}
</style>
