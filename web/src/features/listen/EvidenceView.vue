<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Schemas } from '@/api/client'
import { useEvidence } from '@/api/queries'
import EmptyPlace from '@/shared/EmptyPlace.vue'
import { useSelection } from '@/shared/selection'
import StageFrame from '@/shared/StageFrame.vue'
import { LISTEN } from '@/shared/tabs'
import { count } from '@/shared/words'
import ChosenBar from './ChosenBar.vue'
import ExcerptLine from './ExcerptLine.vue'

/** A question in words gives what people said that answers it best; nothing is made up. */
const { product } = useSelection()
const route = useRoute()
const router = useRouter()
const asked = computed(() => String(route.query.q ?? ''))
const question = ref(asked.value)
watch(asked, (now) => (question.value = now))
const { data, error, isLoading } = useEvidence(product, asked)
const evidence = computed(() => (asked.value ? data.value : undefined))
type Passage = Schemas['ExcerptView']

/** Passages by the finding that they stand behind, the group with the best one first; those behind none come last. */
function grouped(passages: readonly Passage[]) {
  const known = evidence.value?.findings ?? []
  const groups = new Map<number | undefined, Passage[]>()
  for (const one of passages) {
    const finding = one.findings.find((id) => known.some((other) => other.id === id))
    groups.set(finding, [...(groups.get(finding) ?? []), one])
  }
  return [...groups]
    .map(([id, all]) => ({ id, title: known.find((one) => one.id === id)?.title ?? 'Behind no finding', all }))
    .sort((one, other) => Number(one.id === undefined) - Number(other.id === undefined))
}
const parts = computed(() => {
  const other = new Set(evidence.value?.contrary ?? [])
  const all = evidence.value?.passages ?? []
  return [
    { name: 'What answers best', groups: grouped(all.filter((one) => !other.has(one.id))) },
    { name: 'Contrary voices', groups: grouped(all.filter((one) => other.has(one.id))) },
  ].filter((part) => part.groups.length)
})
const chosen = ref<number[]>([])
watch(asked, () => (chosen.value = []))

const ask = () => router.push({ query: { q: question.value.trim() || undefined } })
function choose(id: number, on: boolean) {
  chosen.value = on ? [...chosen.value, id] : chosen.value.filter((one) => one !== id)
}
</script>

<template>
  <StageFrame :tabs="LISTEN" :busy="isLoading" :problem="error?.message">
    <div class="evidence">
      <form class="row-flex question" role="search" @submit.prevent="ask">
        <label class="visually-hidden" for="question">Question about what people said</label>
        <input
          id="question"
          v-model="question"
          class="form-control"
          maxlength="300"
          placeholder="What do people say about …?"
        />
        <button type="submit" class="btn btn-primary">Ask</button>
      </form>
      <p v-if="!asked" class="small quiet">
        The answer is what people said, nothing else: the passages that are nearest in meaning and words. Where nobody
        spoke of it, that is said.
      </p>
      <template v-else-if="evidence">
        <EmptyPlace v-if="!evidence.passages.length" title="Nobody spoke of this">
          Nothing that was said is near enough to the question. Put it in other words, or ask people.
        </EmptyPlace>
        <template v-else>
          <p role="status" data-answer>
            <b>{{ count(evidence.passages.length, 'passage') }}</b> from
            {{ count(evidence.people, 'person', 'people') }}
            <button
              v-if="chosen.length < evidence.passages.length"
              type="button"
              class="btn btn-plain"
              @click="chosen = evidence.passages.map((one) => one.id)"
            >
              Choose all
            </button>
          </p>
          <section v-for="part in parts" :key="part.name">
            <h2>{{ part.name }}</h2>
            <template v-for="group in part.groups" :key="group.id ?? 0">
              <h3 class="row-flex">
                <RouterLink
                  v-if="group.id"
                  class="thing"
                  :to="{ name: 'finding', params: { product, id: group.id }, query: { at: `finding:${group.id}` } }"
                  >N{{ group.id }}</RouterLink
                >
                {{ group.title }} <span class="quiet">{{ count(group.all.length, 'passage') }}</span>
              </h3>
              <ul class="stacked">
                <ExcerptLine
                  v-for="excerpt in group.all"
                  :key="excerpt.id"
                  :excerpt="excerpt"
                  :chosen="chosen.includes(excerpt.id)"
                  where
                  @choose="choose(excerpt.id, $event)"
                />
              </ul>
            </template>
          </section>
        </template>
      </template>
      <ChosenBar v-if="chosen.length" v-model="chosen" />
    </div>
  </StageFrame>
</template>

<style scoped>
.evidence {
  padding: 12px 16px 60px;
}
.question {
  margin-bottom: 8px;
  max-width: 760px;
}
.form-control {
  flex: 1;
}
h2 {
  font-size: 16px;
  margin: 18px 0 4px;
}
h3 {
  font-size: 14px;
  gap: 6px;
  margin: 10px 0 6px;
}
</style>
