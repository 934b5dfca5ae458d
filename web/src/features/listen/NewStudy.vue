<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, value } from '@/api/client'
import { useStudyTemplates } from '@/api/queries'
import { useSave } from '@/api/save'
import { useSelection } from '@/shared/selection'
import { count } from '@/shared/words'
import GuideList from './GuideList.vue'

/** A new study: empty, or as one of the kinds of research, whose guide is changed afterwards like any text. */
const { product, select } = useSelection()
const { save } = useSave()
const { data: templates } = useStudyTemplates()
const shown = ref(false)
const title = ref('')
const key = ref('')
const chosen = computed(() => templates.value?.find((one) => one.key === key.value))

async function add() {
  const { method, question, guide } = chosen.value ?? {}
  const body = { product: product.value, set: { title: title.value, ...(chosen.value && { method, question, guide }) } }
  const params = { path: { collection: 'study' as const } }
  const saved = await save(value(api.POST('/api/v1/collections/{collection}/things', { params, body })))
  if (!saved?.thing) return
  shown.value = false
  title.value = ''
  key.value = ''
  select(saved.thing.kind, saved.thing.id)
}
</script>

<template>
  <button type="button" class="btn btn-primary" @click="shown = true">New study</button>
  <BModal v-model="shown" title="A new study" size="xl" no-footer scrollable>
    <form class="new" @submit.prevent="add">
      <div>
        <label
          >What it is called
          <input v-model="title" class="form-control" required placeholder="such as: winter commuters" />
        </label>
        <fieldset>
          <legend class="small quiet">What sort of research it is</legend>
          <label v-for="one in templates" :key="one.key" class="kind">
            <input v-model="key" type="radio" name="kind" :value="one.key" />
            <span
              ><b>{{ one.name }}</b> <span class="small quiet">{{ one.method }}</span><br /><span class="small">{{
                one.fits
              }}</span></span
            >
          </label>
          <label class="kind"><input v-model="key" type="radio" name="kind" value="" /><b>None of these</b></label>
        </fieldset>
      </div>
      <section aria-label="The guide" aria-live="polite">
        <template v-if="chosen">
          <p>{{ chosen.question }}</p>
          <p class="small quiet">{{ chosen.size }} · {{ count(chosen.questions.length, 'question') }} to begin with</p>
          <GuideList :questions="chosen.questions" />
        </template>
        <p v-else class="quiet">An empty study. Its guide is written where the study is opened, a question a line.</p>
      </section>
      <button type="submit" class="btn btn-primary">Add the study</button>
    </form>
  </BModal>
</template>

<style scoped>
.new {
  display: grid;
  gap: 14px 28px;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
}
.new > button {
  justify-self: start;
}
fieldset {
  display: grid;
  gap: 6px;
  margin-top: 12px;
}
.kind {
  align-items: baseline;
  display: flex;
  gap: 8px;
}
input[type='radio'] {
  flex: none;
}
@media (max-width: 760px) {
  .new {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
