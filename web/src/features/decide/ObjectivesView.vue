<script setup lang="ts">
import { reactive } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useIdeas, useObjectives } from '@/api/queries'
import { useSave } from '@/api/save'
import EditField from '@/shared/EditField.vue'
import EmptyPlace from '@/shared/EmptyPlace.vue'
import { useSelection } from '@/shared/selection'
import StageFrame from '@/shared/StageFrame.vue'
import ObjectivePath from './ObjectivePath.vue'
import { DECIDE } from '@/shared/tabs'

const { product, select, isSelected } = useSelection()
const { data: objectives, error, isPending } = useObjectives(product)
const { data: ideas } = useIdeas(product)
const { save, edit } = useSave()
const form = reactive({ title: '', measure: '', unit: '', start_value: 0, target_value: 0, due_on: '' })

type Objective = Schemas['ObjectiveView']
const set = (objective: Objective, values: Record<string, unknown>) =>
  edit({ kind: 'objective', id: objective.id }, objective, values)
const names = (objective: Objective) => (ideas.value ?? []).filter((idea) => objective.ideas.includes(idea.id))

async function add() {
  const saved = await save(
    value(api.POST('/api/v1/decide/objectives', { body: { product_id: product.value, set: { ...form } } })),
  )
  if (saved) Object.assign(form, { title: '', measure: '', unit: '', start_value: 0, target_value: 0, due_on: '' })
}
</script>

<template>
  <StageFrame :tabs="DECIDE" :busy="isPending" :problem="error?.message">
    <EmptyPlace v-if="objectives?.length === 0" title="No objective yet">
      An objective is a goal with a measure, a start, a target and a date. Ideas say which one they serve. Begin with
      one below.
    </EmptyPlace>
    <table v-else-if="objectives" class="list">
      <thead>
        <tr>
          <th scope="col">Objective and measure</th>
          <th scope="col" class="number">Start</th>
          <th scope="col" class="number">Now</th>
          <th scope="col" class="number">Target</th>
          <th scope="col">On the way</th>
          <th scope="col">By</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="objective in objectives"
          :key="objective.id"
          :class="{ selected: isSelected('objective', objective.id) }"
          @click="select('objective', objective.id)"
          @focusin="select('objective', objective.id)"
        >
          <td class="what">
            <EditField
              :value="objective.title"
              :label="`Title of O${objective.id}`"
              @save="set(objective, { title: $event })"
            />
            <div class="small quiet">
              O{{ objective.id }} · {{ objective.measure
              }}<template v-if="objective.unit">, {{ objective.unit }}</template>
            </div>
            <div class="small">
              <template v-for="idea in names(objective)" :key="idea.id">
                <RouterLink class="thing" :to="{ name: 'ranking', query: { at: `idea:${idea.id}` } }"
                  >I{{ idea.id }} {{ idea.title }}</RouterLink
                ><br />
              </template>
              <span v-if="names(objective).length === 0">Nothing is done for it.</span>
            </div>
          </td>
          <td class="number value">
            <EditField
              :value="objective.start_value"
              type="number"
              :label="`Start of O${objective.id}`"
              right
              @save="set(objective, { start_value: $event })"
            />
          </td>
          <td class="number value">
            <EditField
              :value="objective.present_value"
              type="number"
              :label="`Where O${objective.id} stands`"
              right
              placeholder="?"
              @save="set(objective, { present_value: $event })"
            />
          </td>
          <td class="number value">
            <EditField
              :value="objective.target_value"
              type="number"
              :label="`Target of O${objective.id}`"
              right
              @save="set(objective, { target_value: $event })"
            />
          </td>
          <td>
            <ObjectivePath
              :start="objective.start_value"
              :present="objective.present_value"
              :target="objective.target_value"
            />
          </td>
          <td class="by">
            <EditField
              :value="objective.due_on"
              type="date"
              :label="`Date of O${objective.id}`"
              @save="set(objective, { due_on: $event })"
            />
          </td>
        </tr>
      </tbody>
    </table>
    <form class="new" @submit.prevent="add">
      <h2>A new objective</h2>
      <label>The goal <input v-model="form.title" class="form-control" required /></label>
      <label>Its measure <input v-model="form.measure" class="form-control" required /></label>
      <label>Unit <input v-model="form.unit" class="form-control" placeholder="a week" /></label>
      <label
        >Start <input v-model.number="form.start_value" class="form-control" type="number" step="any" required
      /></label>
      <label
        >Target <input v-model.number="form.target_value" class="form-control" type="number" step="any" required
      /></label>
      <label>By <input v-model="form.due_on" class="form-control" type="date" /></label>
      <button type="submit" class="btn btn-primary">Add the objective</button>
    </form>
  </StageFrame>
</template>

<style scoped>
.what {
  font-weight: 550;
  min-width: 240px;
}
.what .small {
  font-weight: 400;
}
.value {
  width: 80px;
}
.by {
  width: 140px;
}
.new {
  align-items: end;
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  padding: 16px;
}
.new h2 {
  flex: 1 0 100%;
  font-size: 15px;
  margin: 0;
}
</style>
