<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, value } from '@/api/client'
import type { RowView } from '@/api/collections'
import { useSave } from '@/api/save'
import { day, today } from '@/shared/words'
import { told } from './scores'

/** The decision about an idea, and taking it. What it rests on is kept with it as it is at that moment. */
const props = defineProps<{ row: RowView }>()
const { save } = useSave()
const reason = ref('')
const again = ref('')
/** Whether somebody decided without saying why. */
const unsaid = ref(false)
const field = ref<HTMLTextAreaElement>()
const text = (name: string) => String(props.row.values[name] ?? '')
const state = computed(() => text('state'))
const decided = computed(() => text('outcome') !== '')
const score = computed(() => props.row.values.score_then as number | null)

async function decide(outcome: 'chosen' | 'set_aside') {
  unsaid.value = reason.value.trim() === ''
  if (unsaid.value) return field.value?.focus()
  const body = { rev: props.row.rev, outcome, reason: reason.value, look_again_on: again.value || null }
  const path = { id: props.row.id }
  if (await save(value(api.POST('/api/v1/decide/ideas/{id}/decision', { params: { path }, body })))) {
    reason.value = ''
    again.value = ''
  }
}
</script>

<template>
  <div>
    <p v-if="decided" class="decided">
      <b>{{ text('outcome') === 'chosen' ? 'Chosen' : 'Set aside' }}</b> on {{ day(text('decided_on'))
      }}<template v-if="score != null">, at a score of {{ told(score) }}</template
      >: {{ text('reason') }}
    </p>
    <component :is="decided ? 'details' : 'div'" v-if="state !== 'shipped'">
      <summary v-if="decided" class="small quiet">Decide again</summary>
      <form class="decide" novalidate @submit.prevent="decide(state === 'chosen' ? 'set_aside' : 'chosen')">
        <label>
          <span class="small quiet">Decide: why?</span>
          <textarea
            ref="field"
            v-model="reason"
            class="form-control"
            rows="2"
            required
            :aria-invalid="unsaid"
            @input="unsaid = false"
          ></textarea>
        </label>
        <p v-if="unsaid" role="alert" class="problem">Say why first: the reason is kept with the decision.</p>
        <div class="row-flex">
          <button v-if="state !== 'chosen'" type="submit" class="btn btn-primary">Choose it</button>
          <button v-if="state !== 'set_aside'" type="button" class="btn btn-outline" @click="decide('set_aside')">
            Set it aside
          </button>
          <label class="row-flex"
            ><span class="small quiet">look again on</span>
            <input v-model="again" class="form-control day" type="date" :min="today()"
          /></label>
        </div>
      </form>
    </component>
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
.decide > label {
  display: block;
}
.problem {
  margin: 0;
}
.row-flex {
  flex-wrap: wrap;
}
.day {
  width: 150px;
}
</style>
