<script setup lang="ts">
import { api, value, type Schemas } from '@/api/client'
import { useSave } from '@/api/save'
import type { Collection } from '@/api/collections'
import PickThing from '@/shared/PickThing.vue'
import { thingIn } from '@/shared/tabs'
import { percent, words } from '@/shared/words'
import PartField from './PartField.vue'

/** What serves an objective, and how much of the way each is to bring. */
const props = defineProps<{ id: number; serving: readonly Schemas['ServingView'][]; open: number }>()
const { save } = useSave()
const PLACES = [
  { kind: 'idea', name: 'Ideas' },
  { kind: 'release', name: 'Releases' },
] as const
const params = () => ({ path: { id: props.id } })

const serve = (kind: Collection, id: number, part: number | null) =>
  save(
    value(
      api.POST('/api/v1/decide/objectives/{id}/serving', {
        params: params(),
        body: { thing: { kind, id }, part },
      }),
    ),
  )
function takeAway(one: Schemas['ServingView']) {
  const body = { kind: 'asks_for' as const, from: { kind: 'objective' as const, id: props.id }, to: one.thing }
  return save(value(api.POST('/api/v1/links/remove', { body })))
}
</script>

<template>
  <section data-serving>
    <div class="row-flex">
      <h3>What serves it</h3>
      <PickThing
        label="Put something behind it"
        search="Search for an idea or a release"
        :places="PLACES"
        @pick="(kind, id) => serve(kind, id, null)"
      />
    </div>
    <p v-if="!serving.length" class="quiet">
      Nothing yet. Put an idea or a release behind it, or set “Objectives” on an initiative.
    </p>
    <table v-else class="list">
      <thead>
        <tr>
          <th scope="col">Idea, initiative or release</th>
          <th scope="col">State</th>
          <th scope="col" class="number">Stories done</th>
          <th scope="col" class="number">Of the way</th>
          <th scope="col"><span class="visually-hidden">Take away</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in serving" :key="`${one.thing.kind} ${one.thing.id}`">
          <td>
            <RouterLink class="thing" :to="thingIn(one.thing.kind as Collection, one.thing.id)"
              >{{ one.reference }} {{ one.title }}</RouterLink
            >
          </td>
          <td>{{ words(one.state) }}</td>
          <td class="number">{{ one.delivered.stories_done }} of {{ one.delivered.stories }}</td>
          <td class="number">
            <PartField
              :part="one.part"
              :name="one.reference"
              @set="(part) => serve(one.thing.kind as Collection, one.thing.id, part)"
            />
            %
          </td>
          <td>
            <button
              type="button"
              class="btn btn-plain"
              :aria-label="`Take away: ${one.reference}`"
              @click="takeAway(one)"
            >
              take away
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="open > 0 && serving.length" class="small quiet">
      {{ percent(open) }} of the way is neither gone nor promised by what is under way.
    </p>
  </section>
</template>

<style scoped>
h3 {
  font-size: 15px;
  margin: 10px 0 4px;
}
p {
  margin: 4px 0;
}
</style>
