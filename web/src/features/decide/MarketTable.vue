<script setup lang="ts">
import { computed } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useSave } from '@/api/save'
import KiteMark from '@/shared/KiteMark.vue'
import PickThing from '@/shared/PickThing.vue'
import { thingIn } from '@/shared/tabs'
import { count, percent } from '@/shared/words'

/** Capabilities by offers: ours can be said in place, those of others open their notes. */
const props = defineProps<{ market: Schemas['Market'] }>()
const opened = defineModel<{ capability: number; competitor: number }>()
const { save, edit } = useSave()
const OFFERS = ['none', 'partly', 'fully'] as const
const PLACES = [{ kind: 'idea', name: 'Ideas' }] as const
const lines = computed(() =>
  props.market.capabilities.map((capability) => ({
    capability,
    row: props.market.rows.find((row) => row.capability === capability.id),
  })),
)
const is = (capability: number, competitor: number) =>
  opened.value?.capability === capability && opened.value.competitor === competitor
const toggle = (capability: number, competitor: number) =>
  (opened.value = is(capability, competitor) ? undefined : { capability, competitor })

const setOurs = (one: Schemas['CapabilityView'], field: HTMLSelectElement) =>
  edit({ kind: 'capability', id: one.id }, one, { offers: field.value || null })
const setNote = (one: Schemas['CapabilityView'], field: HTMLInputElement) =>
  edit({ kind: 'capability', id: one.id }, one, { note: field.value.trim() || null })
const closes = (capability: number, idea: number, path: '/api/v1/links' | '/api/v1/links/remove') => {
  const body = {
    kind: 'closes' as const,
    from: { kind: 'idea' as const, id: idea },
    to: { kind: 'capability' as const, id: capability },
  }
  return save(value(api.POST(path, { body })))
}
function remove(kind: 'competitor' | 'capability', one: { id: number; rev: number }) {
  const params = { path: { kind, id: one.id }, query: { rev: one.rev } }
  return save(value(api.DELETE('/api/v1/things/{kind}/{id}', { params })))
}
</script>

<template>
  <div class="wide">
    <table class="list">
      <thead>
        <tr>
          <th scope="col">Capability</th>
          <th scope="col">Our product</th>
          <th v-for="one in market.competitors" :key="one.id" scope="col">
            {{ one.name }}
            <button
              type="button"
              class="btn btn-plain"
              :aria-label="`Remove ${one.name} with its notes`"
              @click="remove('competitor', one)"
            >
              ×
            </button>
          </th>
          <th scope="col" title="The mean of how much more each of them does: none 0, partly ½, fully 1">Gap</th>
          <th scope="col">Closed by</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="{ capability, row } in lines" :key="capability.id" :data-capability="capability.id">
          <th scope="row">
            {{ capability.title }}
            <button
              type="button"
              class="btn btn-plain"
              :aria-label="`Remove ${capability.title}`"
              @click="remove('capability', capability)"
            >
              ×
            </button>
          </th>
          <td>
            <select
              class="form-select"
              :value="capability.offers ?? ''"
              :aria-label="`How far our product does it: ${capability.title}`"
              @change="setOurs(capability, $event.target as HTMLSelectElement)"
            >
              <option value="">unknown</option>
              <option v-for="one in OFFERS" :key="one" :value="one">{{ one }}</option>
            </select>
            <input
              class="form-control why"
              :value="capability.note ?? ''"
              placeholder="why?"
              :aria-label="`What stands behind that: ${capability.title}`"
              @change="setNote(capability, $event.target as HTMLInputElement)"
            />
          </td>
          <td v-for="cell in row?.cells" :key="cell.competitor">
            <button
              type="button"
              class="btn btn-plain cell"
              :aria-expanded="is(capability.id, cell.competitor)"
              :data-cell="`${capability.id} ${cell.competitor}`"
              @click="toggle(capability.id, cell.competitor)"
            >
              <KiteMark v-if="cell.offers" :state="cell.offers" /><span v-else class="quiet">unknown</span>
              <span v-if="cell.notes.length" class="small quiet"> {{ count(cell.notes.length, 'note') }}</span>
            </button>
          </td>
          <td class="number">{{ row?.gap == null ? '' : percent(row.gap) }}</td>
          <td class="ideas">
            <span v-for="idea in capability.ideas" :key="idea">
              <RouterLink class="thing" :to="thingIn('idea', idea)">I{{ idea }}</RouterLink>
              <button
                type="button"
                class="btn btn-plain"
                :aria-label="`I${idea} does not close it`"
                @click="closes(capability.id, idea, '/api/v1/links/remove')"
              >
                ×
              </button>
            </span>
            <PickThing
              label="An idea"
              search="Search for an idea that closes it"
              :places="PLACES"
              :without="capability.ideas"
              @pick="(_, id) => closes(capability.id, id, '/api/v1/links')"
            />
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.wide {
  overflow-x: auto;
}
tbody :is(th, td) {
  vertical-align: middle;
}
.number {
  white-space: nowrap;
}
.cell .small {
  margin-left: 6px;
}
th[scope='row'] {
  font-weight: 600;
  min-width: 180px;
}
.form-select {
  min-width: 104px;
  width: auto;
}
.why {
  font-size: 13px;
  margin-top: 2px;
  min-height: 26px;
  min-width: 150px;
  padding: 1px 6px;
}
.cell {
  text-align: left;
  text-decoration: none;
  white-space: nowrap;
}
.cell[aria-expanded='true'] {
  outline: 2px solid var(--ink);
}
.ideas {
  white-space: nowrap;
}
</style>
