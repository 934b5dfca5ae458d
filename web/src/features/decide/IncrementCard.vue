<script setup lang="ts">
import { ref } from 'vue'
import { type Schemas } from '@/api/client'
import { useSave } from '@/api/save'
import KiteMark from '@/shared/KiteMark.vue'
import { thingIn } from '@/shared/tabs'
import { count, figure } from '@/shared/words'
import ResultForm from '../learn/ResultForm.vue'
import { HELD } from '../learn/verdicts'
import StoriesOfIncrement from './StoriesOfIncrement.vue'

/** One increment: what it should show, its stories, and what it came to. */
const props = defineProps<{
  increment: Schemas['IncrementView']
  alone?: boolean
}>()
const { edit } = useSave()
const STATES = ['planned', 'under_way', 'finished', 'dropped'] as const
const NAMES = { planned: 'planned', under_way: 'under way', finished: 'finished', dropped: 'dropped' }
const noting = ref(false)
const set = (field: string, value: unknown) =>
  edit({ kind: 'increment', id: props.increment.id }, props.increment, { [field]: value })
const setState = (event: Event) => set('state', (event.target as HTMLSelectElement).value)
</script>

<template>
  <article :data-increment="increment.id">
    <header class="row-flex">
      <KiteMark :state="increment.state" plain />
      <b class="grow"
        ><RouterLink v-if="!alone" class="thing" :to="thingIn('increment', increment.id)"
          >K{{ increment.id }} {{ increment.title }}</RouterLink
        ></b
      >
      <span class="small quiet">
        {{ increment.quarter
        }}<template v-if="increment.effort"> · {{ count(increment.effort, 'person-week') }}</template>
      </span>
      <select class="form-select" :value="increment.state" :aria-label="`State of K${increment.id}`" @change="setState">
        <option v-for="one in STATES" :key="one" :value="one">{{ NAMES[one] }}</option>
      </select>
    </header>
    <p v-if="increment.shows" class="small">
      To show: {{ increment.shows }}<template v-if="increment.measure"> Measured by: {{ increment.measure }}.</template>
    </p>
    <StoriesOfIncrement :increment="increment" />
    <ul v-if="increment.results.length" class="small">
      <li v-for="one in increment.results" :key="one.id">
        <b>{{ HELD[one.verdict ?? 'unclear'] }}</b>: {{ one.measure }}, {{ one.words
        }}<template v-if="one.note"> · {{ one.note }}</template>
      </li>
    </ul>
    <button v-if="!noting" type="button" class="btn btn-plain" @click="noting = true">
      Note what K{{ increment.id }} came to
    </button>
    <ResultForm
      v-else
      :idea="increment.idea_id"
      :increment="increment.id"
      :guess="increment.shows"
      :measure="increment.measure"
      @done="noting = false"
    />
    <span v-if="increment.delivered.stories" class="small quiet">
      {{ increment.delivered.stories_done }} of {{ increment.delivered.stories }} stories done,
      {{ figure(increment.delivered.points_done) }} of {{ figure(increment.delivered.points) }} points
    </span>
  </article>
</template>

<style scoped>
article {
  border: 1px solid var(--rule);
  border-radius: 6px;
  margin: 6px 0;
  padding: 6px 10px;
}
.grow {
  flex: 1;
}
.form-select {
  width: auto;
}
p {
  margin: 2px 0;
}
ul {
  margin: 4px 0;
  padding-left: 18px;
}
</style>
