<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, value } from '@/api/client'
import { useFindings, useIdeas, useObjectives } from '@/api/queries'
import { useSave } from '@/api/save'
import EmptyPlace from '@/shared/EmptyPlace.vue'
import { useSelection } from '@/shared/selection'
import StageFrame from '@/shared/StageFrame.vue'
import IdeaRow from './IdeaRow.vue'
import { DECIDE } from '@/shared/tabs'

const { product, select } = useSelection()
const { data: ideas, error, isPending } = useIdeas(product)
const { data: objectives } = useObjectives(product)
const { data: findings } = useFindings(product)
const { save } = useSave()
const title = ref('')
const most = computed(() => Math.max(1, ...(ideas.value ?? []).map((idea) => idea.rice.score ?? 0)))

async function add() {
  const saved = await save(
    value(api.POST('/api/v1/decide/ideas', { body: { product_id: product.value, title: title.value } })),
  )
  if (!saved?.thing) return
  title.value = ''
  select('idea', saved.thing.id)
}
</script>

<template>
  <StageFrame :tabs="DECIDE" :busy="isPending" :problem="error?.message">
    <template #tools>
      <span class="small quiet">RICE: people reached a quarter × impact × confidence ÷ person-weeks</span>
      <form class="row-flex" @submit.prevent="add">
        <label>
          <span class="visually-hidden">A new idea</span>
          <input v-model="title" class="form-control" placeholder="a new idea" required />
        </label>
        <button type="submit" class="btn btn-primary">Add</button>
      </form>
    </template>
    <EmptyPlace v-if="ideas?.length === 0" title="No idea yet">
      An idea is a guess at how to reach an objective. Make one from a finding, so that it is known who asked for it, or
      type one above.
      <template #steps
        ><RouterLink class="btn btn-primary" :to="{ name: 'findings' }">Look at the findings</RouterLink></template
      >
    </EmptyPlace>
    <table v-else-if="ideas" class="list ranking">
      <thead>
        <tr>
          <th scope="col" class="number">Rank</th>
          <th scope="col">Idea</th>
          <th scope="col" class="number">Reach</th>
          <th scope="col" class="number">Impact</th>
          <th scope="col" class="number">Conf.</th>
          <th scope="col" class="number">Weeks</th>
          <th scope="col" class="number">RICE</th>
          <th scope="col" class="number">People</th>
          <th scope="col" class="number">Accts</th>
          <th scope="col" class="number">€</th>
        </tr>
      </thead>
      <IdeaRow
        v-for="idea in ideas"
        :key="idea.id"
        :idea="idea"
        :most="most"
        :objectives="objectives ?? []"
        :findings="findings ?? []"
      />
    </table>
  </StageFrame>
</template>

<style scoped>
.ranking th:first-child {
  width: 52px;
}
</style>
