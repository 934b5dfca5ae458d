<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, value } from '@/api/client'
import type { RowView } from '@/api/collections'
import { useSave } from '@/api/save'
import { useSelection } from '@/shared/selection'
import { thingIn } from '@/shared/tabs'
import { day, whole } from '@/shared/words'
import { links } from '../collections/text'
import QuoteList from '../listen/QuoteList.vue'

/** The decision about an idea, and the epic that it becomes. */
const props = defineProps<{ row: RowView }>()
const { product } = useSelection()
const router = useRouter()
const { save } = useSave()
const reason = ref('')
const text = (name: string) => String(props.row.values[name] ?? '')
const state = computed(() => text('state'))
const decided = computed(() => text('outcome') !== '')
const score = computed(() => props.row.values.score_then as number | null)
const epics = computed(() => links(props.row.values.epics))

async function decide(outcome: 'chosen' | 'set_aside') {
  const body = { rev: props.row.rev, outcome, reason: reason.value }
  const path = { id: props.row.id }
  if (await save(value(api.POST('/api/v1/decide/ideas/{id}/decision', { params: { path }, body })))) reason.value = ''
}

async function makeEpic() {
  const body = { product_id: product.value, idea_id: props.row.id }
  const saved = await save(value(api.POST('/api/v1/specify/epics', { body })))
  if (saved?.thing) await router.push(thingIn('work_item', saved.thing.id, 'epics'))
}
</script>

<template>
  <div>
    <p v-if="decided" class="decided">
      <b>{{ text('outcome') === 'chosen' ? 'Chosen' : 'Set aside' }}</b> on {{ day(text('decided_on'))
      }}<template v-if="score != null">, at RICE {{ whole(score) }}</template
      >: {{ text('reason') }}
    </p>
    <form
      v-if="state !== 'shipped'"
      class="decide"
      @submit.prevent="decide(state === 'chosen' ? 'set_aside' : 'chosen')"
    >
      <label>
        <span class="small quiet">{{ decided ? 'Decide again: why?' : 'Decide: why?' }}</span>
        <textarea v-model="reason" class="form-control" rows="2" required></textarea>
      </label>
      <div class="row-flex">
        <button v-if="state !== 'chosen'" type="submit" class="btn btn-primary">Choose it</button>
        <button v-if="state !== 'set_aside'" type="button" class="btn btn-outline" @click="decide('set_aside')">
          Set it aside
        </button>
      </div>
    </form>
    <QuoteList :row="row" />
    <div class="row-flex steps">
      <button v-if="state === 'chosen' && epics.length === 0" type="button" class="btn btn-primary" @click="makeEpic">
        Make an epic of it
      </button>
      <RouterLink
        v-for="epic in epics"
        :key="epic.id"
        class="btn btn-outline"
        :to="thingIn('work_item', epic.id, 'epics')"
        >Open {{ epic.label.split(' ')[0] }}</RouterLink
      >
    </div>
    <p class="small quiet">
      RICE is the people reached a quarter × impact (0 to 10, 1 is something) × confidence (0 to 1) ÷ person-weeks.
    </p>
  </div>
</template>

<style scoped>
.decided {
  margin: 0 0 8px;
}
.decide {
  display: grid;
  gap: 8px;
  max-width: 560px;
}
.decide label {
  display: block;
}
.steps {
  margin: 10px 0;
}
</style>
