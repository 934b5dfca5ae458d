<script setup lang="ts">
import { api, value } from '@/api/client'
import type { Collection } from '@/api/collections'
import { useServes } from '@/api/queries'
import { useSave } from '@/api/save'
import PickThing from '@/shared/PickThing.vue'
import { thingIn } from '@/shared/tabs'
import PartField from './PartField.vue'

/** The objectives that an idea, an initiative or a release serves, and how much of the way of each it is to bring. */
const props = defineProps<{ kind: Collection; id: number }>()
const { save } = useSave()
const { data: serves } = useServes(() => ({ kind: props.kind, id: props.id }))
const PLACES = [{ kind: 'objective', name: 'Objectives' }] as const

function serve(objective: number, part: number | null) {
  const params = { path: { id: objective } }
  const body = { thing: { kind: props.kind, id: props.id }, part }
  return save(value(api.POST('/api/v1/decide/objectives/{id}/serving', { params, body })))
}
</script>

<template>
  <section v-if="serves" data-serves>
    <div class="row-flex">
      <h3>Serves</h3>
      <PickThing
        label="An objective"
        search="Search for an objective"
        :places="PLACES"
        :without="serves.map((one) => one.objective)"
        @pick="(_, id) => serve(id, null)"
      />
    </div>
    <ul>
      <li v-for="one in serves" :key="one.objective" class="row-flex">
        <RouterLink class="thing grow" :to="thingIn('objective', one.objective)"
          >O{{ one.objective }} {{ one.title }}</RouterLink
        >
        <span class="small quiet"
          ><PartField :part="one.part" :name="`O${one.objective}`" @set="(part) => serve(one.objective, part)" /> % of
          the way</span
        >
      </li>
      <li v-if="!serves.length" class="quiet small">No objective yet.</li>
    </ul>
  </section>
</template>

<style scoped>
h3 {
  font-size: 15px;
  margin: 12px 0 4px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
.grow {
  flex: 1;
}
</style>
