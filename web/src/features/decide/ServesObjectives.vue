<script setup lang="ts">
import { api, value, type Schemas } from '@/api/client'
import type { Collection } from '@/api/collections'
import { useServes } from '@/api/queries'
import { useSave } from '@/api/save'
import PickThing from '@/shared/PickThing.vue'
import { thingIn } from '@/shared/tabs'

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
function setPart(one: Schemas['ServedView'], field: HTMLInputElement) {
  const part = field.value === '' ? null : Math.min(100, Math.max(0, Number(field.value))) / 100
  if (part !== (one.part ?? null)) void serve(one.objective, part)
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
        <label class="small quiet"
          ><input
            class="form-control part"
            type="number"
            min="0"
            max="100"
            placeholder="?"
            :value="one.part == null ? '' : Math.round(one.part * 100)"
            :aria-label="`How much of the way of O${one.objective} it is to bring, in percent`"
            @change="setPart(one, $event.target as HTMLInputElement)"
          />
          % of the way</label
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
.part {
  display: inline-block;
  min-height: 26px;
  padding: 1px 4px;
  text-align: right;
  width: 62px;
}
</style>
