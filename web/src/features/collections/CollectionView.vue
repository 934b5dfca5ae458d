<script setup lang="ts">
import { computed, defineAsyncComponent } from 'vue'
import { useRoute } from 'vue-router'
import { useFields, useFirstViews, useTeam, useViews, type Collection, type Definition } from '@/api/collections'
import StageFrame from '@/shared/StageFrame.vue'
import { useSelection } from '@/shared/selection'
import { KINDS } from '@/api/kinds.gen'
import { tabsOf } from '@/shared/tabs'
import { provideCollection } from './context'
import ListBody from './ListBody.vue'
import { fieldOf, shown } from './model'
import NewThing from './NewThing.vue'
import TableBody from './TableBody.vue'
import ThingPane from './ThingPane.vue'
import ViewBar from './ViewBar.vue'
import ViewSentence from './ViewSentence.vue'
import { useViewState } from './viewState'

/** A collection as any of the seven kinds of views. The address holds the view. */
const route = useRoute()
const { product, opened, whole } = useSelection()
const collection = computed(() => String(route.params.collection) as Collection)
const { data: fields, error } = useFields(collection)
const { data: views } = useViews(product, collection)
const { data: team } = useTeam()
const firsts = useFirstViews(collection)
const state = useViewState(collection, fields, views, firsts)

const LikelySame = defineAsyncComponent(() => import('../listen/LikelySame.vue'))
const BODIES = {
  table: TableBody,
  list: ListBody,
  columns: defineAsyncComponent(() => import('./ColumnsBody.vue')),
  timeline: defineAsyncComponent(() => import('./TimelineBody.vue')),
  calendar: defineAsyncComponent(() => import('./CalendarBody.vue')),
  gallery: defineAsyncComponent(() => import('./GalleryBody.vue')),
  chart: defineAsyncComponent(() => import('./ChartBody.vue')),
}

provideCollection({
  collection,
  product,
  fields: computed(() => fields.value ?? []),
  team: computed(() => team.value ?? []),
  definition: computed<Definition>(() => state.definition.value ?? {}),
  state,
})

/** What a saved view or a link names and is not there any more. */
const missing = computed(() => {
  const known = shown(fields.value ?? [])
  const view = state.definition.value
  const named = [...(view?.fields ?? []).map((one) => one.name), ...(view?.group ?? []).map((one) => one.field)]
  return fields.value ? named.filter((name) => !fieldOf(known, name)).length : 0
})
</script>

<template>
  <StageFrame :tabs="tabsOf(collection)" :busy="!state.definition.value" :problem="error?.message">
    <template #tools><NewThing /></template>
    <div v-if="state.definition.value && views" class="collection" :data-kind="state.definition.value.kind">
      <ViewBar :views="views" :firsts="firsts ?? []" :name="KINDS[collection].heading" />
      <ViewSentence />
      <p v-if="missing" class="small quiet missing">
        {{ missing === 1 ? 'One field of this view was' : `${missing} fields of this view were` }} retired or removed
        and left out.
      </p>
      <LikelySame v-if="collection === 'person' || collection === 'account'" :kind="collection" />
      <div class="halves" :class="{ beside: state.definition.value.kind === 'list' }">
        <div v-show="!whole" class="body">
          <component
            :is="BODIES[state.definition.value.kind ?? 'table']"
            :key="`${collection} ${state.definition.value.kind}`"
          />
        </div>
        <ThingPane v-if="opened" :id="opened" :key="collection" />
      </div>
    </div>
  </StageFrame>
</template>

<style scoped>
.collection {
  display: flex;
  flex-direction: column;
  height: 100%;
  min-height: 0;
}
.halves {
  display: flex;
  flex: 1;
  flex-direction: column;
  min-height: 0;
}
.body {
  display: flex;
  flex: 1 1 0;
  flex-direction: column;
  min-height: 0;
  min-width: 0;
}
.beside {
  flex-direction: row;
}
.beside .body {
  flex: 2 1 0;
  min-width: 240px;
}
@media (max-width: 760px) {
  .halves,
  .beside {
    display: block;
    overflow: auto;
  }
  .body {
    height: 62vh;
  }
}
.missing {
  margin: 0;
  padding: 2px 16px;
}
</style>
