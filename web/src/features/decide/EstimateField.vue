<script setup lang="ts">
import { computed, reactive, watch } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useSave } from '@/api/save'
import { count, percent } from '@/shared/words'
import EstimatesApart from './EstimatesApart.vue'
import { range, typed } from './scores'

/** One criterion of an idea: what counts, what you say alone, what the others say once you did, and what is agreed on. */
const props = defineProps<{ id: number; rev: number; one: Schemas['EstimatesOfField']; evidence: number }>()
const { save } = useSave()
const mine = computed(() => props.one.said?.find((said) => said.mine))
const form = reactive({ mine: '', why: '', agreed: '', reason: '' })
watch(
  mine,
  (said) => {
    form.mine = said ? typed(said.range) : ''
    form.why = said?.reason ?? ''
  },
  { immediate: true },
)
/** What is put before people to agree on: what counts, or what holds all that was said. */
const offered = computed(() => props.one.together ?? props.one.counts ?? mine.value?.range)
watch(offered, (offered) => (form.agreed = offered ? typed(offered) : ''), { immediate: true })
const example = computed(() => (props.one.field === 'effort' ? '3–6, or 2 months' : '30–60, or 30 40 60'))
const confidence = computed(() => props.one.field === 'confidence')

/** A confidence that somebody set beside what the evidence gives. */
const byHand = computed(() => props.one.counts && props.one.counts.likely !== props.evidence)

async function say(said: string, agreed: boolean) {
  const reason = (agreed ? form.reason : form.why) || null
  const body = { field: props.one.field, said, agreed, reason, rev: agreed ? props.rev : null }
  const path = { id: props.id }
  const done = await save(value(api.POST('/api/v1/decide/ideas/{id}/estimates', { params: { path }, body })))
  if (done && agreed) form.reason = ''
}
</script>

<template>
  <section :data-estimate="one.field">
    <header>
      <h4>
        {{ one.label }}<span v-if="one.unit" class="quiet small">, {{ one.unit }}</span>
      </h4>
      <span v-if="one.counts" class="small">
        counts as <b data-counts>{{ range(one.counts) }}</b><span v-if="one.agreed_by" class="quiet"
          >, agreed by {{ one.agreed_by }}</span
        ><span v-else-if="confidence && one.counts.by == null" class="quiet">, by the evidence</span>
      </span>
      <span v-else class="small quiet">nobody estimated it yet</span>
    </header>
    <p v-if="confidence && byHand" class="small" data-overruled>
      {{ one.reason ?? 'Set by hand, and nobody said why.' }}
      <span class="quiet">The evidence gives {{ evidence.toFixed(2) }}.</span>
    </p>
    <details v-if="one.steps.length" class="small">
      <summary class="quiet">What the steps stand for</summary>
      <ul>
        <li v-for="step in one.steps" :key="step.value">{{ step.value }}: {{ step.help }}</li>
      </ul>
    </details>
    <template v-if="one.typed">
      <form class="row-flex" @submit.prevent="say(form.mine, false)">
        <label
          ><span class="small quiet">You say, alone</span>
          <input v-model="form.mine" class="form-control" :placeholder="example"
        /></label>
        <label class="grow"
          ><span class="small quiet">because</span>
          <input v-model="form.why" class="form-control" placeholder="what it rests on"
        /></label>
        <button type="submit" class="btn btn-outline">Say it</button>
      </form>
      <p v-if="!one.said && one.said_by" class="small quiet">
        {{ count(one.said_by, 'person', 'people') }} said something; you see it once you did.
      </p>
      <EstimatesApart v-if="one.said && one.said.length > 1" :said="one.said" />
      <p v-if="one.apart != null" class="small">
        The likely values differ by {{ percent(one.apart) }} of the
        {{ one.low != null && one.high != null ? 'scale' : 'middle one' }}.
      </p>
      <form v-if="one.said || !one.said_by" class="row-flex" @submit.prevent="say(form.agreed, true)">
        <label
          ><span class="small quiet">{{ one.together ? 'Agree on (holds all of them)' : 'Agree on' }}</span>
          <input v-model="form.agreed" class="form-control" :placeholder="example"
        /></label>
        <label v-if="confidence" class="grow"
          ><span class="small quiet">why not {{ evidence.toFixed(2) }}, as the evidence gives</span>
          <input v-model="form.reason" class="form-control" required
        /></label>
        <button type="submit" class="btn btn-outline">Agree</button>
      </form>
    </template>
    <p v-else class="small quiet">It is computed.</p>
  </section>
</template>

<style scoped>
section {
  border-top: 1px solid var(--rule);
  padding: 6px 0 8px;
}
header {
  align-items: baseline;
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
}
h4 {
  font-size: 14px;
  margin: 0;
}
form {
  align-items: end;
  flex-wrap: wrap;
  margin: 2px 0;
}
label {
  display: grid;
}
label .form-control {
  width: 170px;
}
.grow {
  flex: 1 1 150px;
}
.grow .form-control {
  width: 100%;
}
p {
  margin: 2px 0;
}
summary {
  cursor: pointer;
  min-height: 24px;
}
ul {
  margin: 0;
  padding-left: 18px;
}
</style>
