<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Schemas } from '@/api/client'
import { useBudget } from '@/api/queries'
import { useSave } from '@/api/save'
import { useSelection } from '@/shared/selection'
import StageFrame from '@/shared/StageFrame.vue'
import { DECIDE, listOf } from '@/shared/tabs'
import { figure, percent } from '@/shared/words'
import RankedBy from './RankedBy.vue'
import { told, useRankedBy } from './scores'

/** What a budget of effort affords: musts first, then the most value, with what needs what; and what taking one in costs. */
const { ask, models, model, top, setBy } = useRankedBy()
const { select, isSelected } = useSelection()
const route = useRoute()
const router = useRouter()
const { edit } = useSave()
const budget = computed(() => Math.max(Number(route.query.budget ?? 40) || 0, 0))
const take = ref<number>()
const { data, error, isPending } = useBudget(() => ({ ...ask.value, budget: budget.value, take: take.value ?? null }))
const set = (event: Event) =>
  router.replace({ query: { ...route.query, budget: (event.target as HTMLInputElement).value } })
const taken = computed(() => new Set(data.value?.afford.best.taken))
const lines = computed(() => {
  const all = data.value?.ideas ?? []
  return [...all.filter((one) => taken.value.has(one.idea)), ...all.filter((one) => !taken.value.has(one.idea))]
})
const MOSCOW: readonly [Schemas['Moscow'], string][] = [
  ['must', 'must'],
  ['should', 'should'],
  ['could', 'could'],
  ['wont', 'won’t'],
]
const say = (one: Schemas['BudgetIdea'], event: Event) =>
  edit({ kind: 'idea', id: one.idea }, one, { moscow: (event.target as HTMLSelectElement).value || null })
const names = (ids: readonly number[]) => ids.map((id) => `I${id}`).join(', ')
const gap = computed(() => {
  const of = data.value?.afford
  return of && of.greedy.worth > 0 ? of.best.worth / of.greedy.worth - 1 : 0
})
</script>

<template>
  <StageFrame :tabs="DECIDE" :busy="isPending" :problem="error?.message">
    <div v-if="data" class="budget" data-budget>
      <div class="row-flex">
        <RouterLink class="btn btn-plain" :to="{ name: 'ranking', query: $route.query }">Ranking</RouterLink>
        <label class="row-flex"
          ><b>Budget</b>
          <input
            class="form-control"
            type="number"
            min="0"
            step="any"
            :value="budget"
            aria-label="Budget"
            @change="set"
          />
          <span class="small quiet">person-weeks</span></label
        >
        <RankedBy v-if="models" :models="models" :model="model" :top="top" @by="setBy" />
        <span
          >takes {{ figure(data.afford.best.cost) }} of it, worth <b>{{ told(data.afford.best.worth) }}</b></span
        >
        <span class="small quiet" data-proven
          >{{
            data.afford.proven
              ? 'no other choice is worth more'
              : `the best found; no choice is worth more than ${told(data.afford.bound)}`
          }}{{ gap > 0.0005 ? `, ${percent(gap)} more than taking the best for its cost one by one` : '' }}</span
        >
      </div>
      <p v-for="one in data.warnings" :key="one" class="warning" role="status">{{ one }}</p>
      <p v-if="take !== undefined" class="with" data-with>
        <template v-if="data.with">
          To take I{{ take }} in,
          {{ data.dropped.length ? `${names(data.dropped)} would have to go` : 'nothing would have to go' }}: it would
          take {{ figure(data.with.cost) }} person-weeks and be worth {{ told(data.with.worth) }} instead of
          {{ told(data.afford.best.worth) }}.
        </template>
        <template v-else>I{{ take }}, with what it needs, does not fit beside the musts.</template>
        <button type="button" class="btn btn-plain" @click="take = undefined">leave it</button>
      </p>
      <table class="list" aria-label="Ideas within the budget">
        <thead>
          <tr>
            <th scope="col">Taken</th>
            <th scope="col">Idea</th>
            <th scope="col">This time</th>
            <th scope="col" class="number">Worth</th>
            <th scope="col" class="number">Person-weeks</th>
            <th scope="col">Depends on</th>
            <th scope="col"><span class="visually-hidden">What if</span></th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="one in lines"
            :key="one.idea"
            :class="{ out: !taken.has(one.idea), on: isSelected('idea', one.idea) }"
            :data-idea="one.idea"
          >
            <td>{{ taken.has(one.idea) ? 'taken' : '' }}</td>
            <td>
              <button type="button" class="btn btn-plain" @click="select('idea', one.idea)">I{{ one.idea }}</button>
              {{ one.title }}
            </td>
            <td>
              <select
                class="form-select"
                :aria-label="`This time, I${one.idea}`"
                :value="one.moscow ?? ''"
                @change="say(one, $event)"
              >
                <option value="">–</option>
                <option v-for="[key, label] in MOSCOW" :key="key" :value="key">{{ label }}</option>
              </select>
            </td>
            <td class="number">{{ told(one.worth) }}</td>
            <td class="number">{{ one.cost == null ? '–' : figure(one.cost) }}</td>
            <td>
              {{ names(one.needs) }}
              <span v-if="data.afford.blocked.includes(one.idea)" class="small">cannot be had this time</span>
            </td>
            <td>
              <button
                v-if="!taken.has(one.idea) && one.cost != null"
                type="button"
                class="btn btn-plain"
                @click="take = one.idea"
              >
                What if it is taken?
              </button>
            </td>
          </tr>
        </tbody>
      </table>
      <p class="small quiet">
        Worth is the mean of what an idea does without what it costs ({{ model?.definition.worth ?? model?.formula }});
        person-weeks are means, too. What an idea needs is set in its fields, “Depends on”, in
        <RouterLink :to="listOf('idea')">Ideas</RouterLink>.
      </p>
    </div>
  </StageFrame>
</template>

<style scoped>
.budget {
  padding: 10px 16px 40px;
}
.budget > .row-flex {
  flex-wrap: wrap;
  gap: 4px 16px;
}
.form-control {
  width: 90px;
}
.form-select {
  width: 100px;
}
.warning {
  background: repeating-linear-gradient(45deg, var(--hatch) 0 3px, transparent 3px 6px) left / 10px 100% no-repeat;
  margin: 8px 0;
  padding: 2px 10px 2px 20px;
}
table td {
  vertical-align: middle;
  white-space: nowrap;
}
table td:nth-child(2) {
  white-space: normal;
}
.with {
  border: 1px dashed var(--quiet);
  margin: 8px 0;
  padding: 6px 12px;
}
.out td {
  color: var(--quiet);
}
.on td {
  background: var(--panel);
}
table {
  margin: 10px 0;
}
</style>
