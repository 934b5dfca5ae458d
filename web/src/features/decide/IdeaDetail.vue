<script setup lang="ts">
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { api, value } from '@/api/client'
import type { RowView } from '@/api/collections'
import { useIdea } from '@/api/queries'
import { useSave } from '@/api/save'
import { useSelection } from '@/shared/selection'
import { thingIn } from '@/shared/tabs'
import { links } from '../collections/text'
import QuoteList from '../listen/QuoteList.vue'
import IdeaDecision from './IdeaDecision.vue'
import IdeaEvidence from './IdeaEvidence.vue'
import IdeaScore from './IdeaScore.vue'
import IdeaSteps from './IdeaSteps.vue'
import LikelySameIdeas from './LikelySameIdeas.vue'
import ServesObjectives from './ServesObjectives.vue'

/** What is decided about an idea, what stands behind it, its steps, and the epic that it becomes. */
const props = defineProps<{ row: RowView }>()
const { product } = useSelection()
const router = useRouter()
const { save } = useSave()
const { data: sheet } = useIdea(() => props.row.id)
const state = computed(() => String(props.row.values.state ?? ''))
const epics = computed(() => links(props.row.values.epics))

async function makeEpic() {
  const body = { product_id: product.value, idea_id: props.row.id }
  const saved = await save(value(api.POST('/api/v1/specify/epics', { body })))
  if (saved?.thing) await router.push(thingIn('work_item', saved.thing.id, 'epics'))
}
</script>

<template>
  <div>
    <IdeaDecision :row="row" />
    <div class="row-flex steps">
      <button v-if="state === 'chosen' && epics.length === 0" type="button" class="btn btn-primary" @click="makeEpic">
        Make an epic of it
      </button>
      <RouterLink
        v-for="epic in epics"
        :key="epic.id"
        class="btn btn-outline"
        :to="thingIn('work_item', epic.id, 'epics')"
        >Open {{ epic.label.split(' ')[0] }}</RouterLink
      >
    </div>
    <ServesObjectives :id="row.id" kind="idea" />
    <LikelySameIdeas :id="row.id" />
    <template v-if="sheet">
      <IdeaScore :id="row.id" />
      <IdeaEvidence :row="row" :sheet="sheet" />
      <IdeaSteps :id="row.id" :sheet="sheet" />
    </template>
    <QuoteList :row="row" />
  </div>
</template>

<style scoped>
.steps {
  margin: 10px 0;
}
</style>
