<script setup lang="ts">
import { listOf, thingIn } from '@/shared/tabs'
import { computed, ref } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useLearned } from '@/api/queries'
import { useSave } from '@/api/save'
import EmptyPlace from '@/shared/EmptyPlace.vue'
import { useSelection } from '@/shared/selection'
import StageFrame from '@/shared/StageFrame.vue'
import { count, day } from '@/shared/words'
import ResultForm from './ResultForm.vue'
import { HELD } from './verdicts'

const LEARN = [{ name: 'results', label: 'Results' }] as const
const { product, select, isSelected } = useSelection()
const { data: learned, error, isPending } = useLearned(product)
const { save } = useSave()
const noting = ref<number>()
const due = computed(() => (learned.value?.out ?? []).filter((idea) => idea.results === 0).length)

const remove = (result: Schemas['ResultView']) =>
  save(
    value(
      api.DELETE('/api/v1/things/{kind}/{id}', {
        params: { path: { kind: 'result', id: result.id }, query: { rev: result.rev } },
      }),
    ),
  )
</script>

<template>
  <StageFrame :tabs="LEARN" :busy="isPending" :problem="error?.message">
    <template #tools
      ><span v-if="learned" class="small quiet"
        >{{ count(learned.out.length, 'idea') }} out · {{ due }} not measured yet</span
      ></template
    >
    <EmptyPlace v-if="learned && learned.out.length === 0" title="Nothing is out yet">
      When a release is out, each idea that it brought stands here until somebody has measured whether it helped.
      <template #steps
        ><RouterLink class="btn btn-primary" :to="listOf('release')">Look at the releases</RouterLink></template
      >
    </EmptyPlace>
    <section v-else-if="learned">
      <h2>Out, and did it help?</h2>
      <table class="list">
        <thead>
          <tr>
            <th scope="col">Idea</th>
            <th scope="col">Out with</th>
            <th scope="col">Measured</th>
          </tr>
        </thead>
        <tbody v-for="idea in learned.out" :key="idea.idea_id" :data-out="idea.idea_id">
          <tr
            :class="{ selected: isSelected('idea', idea.idea_id) }"
            @click="select('idea', idea.idea_id)"
            @focusin="select('idea', idea.idea_id)"
          >
            <td>
              <RouterLink class="thing" :to="thingIn('idea', idea.idea_id)"
                >I{{ idea.idea_id }} {{ idea.title }}</RouterLink
              >
            </td>
            <td>
              {{ idea.release }}<span class="small quiet"> · {{ day(idea.out_on) }}</span>
            </td>
            <td>
              <span v-if="idea.results" class="small quiet">{{ count(idea.results, 'result') }}</span>
              <span v-else class="small">not yet</span>
              <button
                type="button"
                class="btn btn-outline note"
                :aria-expanded="noting === idea.idea_id"
                @click="noting = noting === idea.idea_id ? undefined : idea.idea_id"
              >
                Note a result
              </button>
            </td>
          </tr>
          <tr v-if="noting === idea.idea_id">
            <td colspan="3">
              <ResultForm
                :idea="idea.idea_id"
                :release="idea.release_id"
                :guess="idea.guess"
                :known-by="idea.known_by"
                @done="noting = undefined"
              />
            </td>
          </tr>
        </tbody>
      </table>
      <template v-if="learned.results.length">
        <h2>What was measured</h2>
        <table class="list">
          <thead>
            <tr>
              <th scope="col">Measure</th>
              <th scope="col">Before → after</th>
              <th scope="col">What was guessed</th>
              <th scope="col">On</th>
              <th scope="col"><span class="visually-hidden">Actions</span></th>
            </tr>
          </thead>
          <tbody>
            <tr
              v-for="result in learned.results"
              :key="result.id"
              :class="{ selected: isSelected('result', result.id) }"
              @click="select('result', result.id)"
            >
              <td>
                <button type="button" class="btn btn-plain ref" @click="select('result', result.id)">
                  M{{ result.id }}
                </button>
                {{ result.measure }}
                <div class="small quiet">
                  I{{ result.idea_id }}<template v-if="result.note"> · {{ result.note }}</template>
                </div>
              </td>
              <td class="change">{{ result.words }}</td>
              <td>{{ result.verdict ? HELD[result.verdict] : 'not said' }}</td>
              <td>{{ day(result.measured_on) }}</td>
              <td>
                <button
                  type="button"
                  class="btn btn-plain"
                  :aria-label="`Remove M${result.id}`"
                  @click.stop="remove(result)"
                >
                  remove
                </button>
              </td>
            </tr>
          </tbody>
        </table>
      </template>
    </section>
  </StageFrame>
</template>

<style scoped>
h2 {
  font-size: 15px;
  margin: 0;
  padding: 16px 16px 0;
}
.note {
  margin-left: 12px;
}
.ref {
  padding: 0;
  text-decoration: none;
}
.change {
  font-variant-numeric: tabular-nums;
}
</style>
