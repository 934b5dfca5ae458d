<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useAttempt } from '@/api/attempt'
import { useTeam, type Collection, type Filter } from '@/api/collections'
import { useSave } from '@/api/save'
import { useRuleFields } from '@/api/talk'
import { useSelection } from '@/shared/selection'
import { KINDS } from '@/api/kinds.gen'
import { provideFiltered } from '../collections/context'
import FilterGroup from '../collections/FilterGroup.vue'
import ActForm from './ActForm.vue'
import RuleValue from './RuleValue.vue'
import RunLines from './RunLines.vue'
import { firstValue, newAct, newRule, newWhen, RULED, WHENS, type Act, type Definition, type When } from './ruleForm'

/** A rule being made or changed: when, if and then, and what it would have done. */
const props = defineProps<{ rule?: Schemas['RuleView'] }>()
const emit = defineEmits<{ done: [] }>()
const { product } = useSelection()
const { save } = useSave()
const attempt = useAttempt()
const title = ref(props.rule?.title ?? '')
const definition = ref<Definition>(props.rule ? structuredCopy(props.rule.definition) : newRule())
const tried = ref<Schemas['DryRun']>()
const result = ref<HTMLElement>()
const { data: fields } = useRuleFields(() => definition.value.collection)
const { data: team } = useTeam()
provideFiltered({ fields: computed(() => fields.value?.looks_at ?? []), team: computed(() => team.value ?? []) })

function structuredCopy<T>(one: T): T {
  return JSON.parse(JSON.stringify(one)) as T
}

const when = computed({
  get: () => definition.value.when,
  set: (to: When) => (definition.value = { ...definition.value, when: to }),
})
const waitsFor = computed(() => {
  const { when } = definition.value
  return 'field' in when ? fields.value?.looks_at.find((one) => one.name === when.field) : undefined
})
const days = computed(() => (fields.value?.looks_at ?? []).filter((one) => one.type === 'date'))
const offered = computed(() => WHENS.filter(([sort]) => sort !== 'day_comes' || days.value.length))

/** Another collection has other fields: what was said of the old ones says nothing any more. */
const renews = ref(false)
function pickCollection(collection: Collection) {
  definition.value = { collection, when: { sort: 'created' }, only_if: null, then: [newAct('notify', undefined)] }
  renews.value = true
}
watch(fields, (is) => {
  if (renews.value && is) when.value = newWhen('becomes', is.looks_at)
  renews.value = false
})
watch(definition, () => (tried.value = undefined))

const put = (at: number, act: Act) =>
  (definition.value = { ...definition.value, then: definition.value.then.map((one, n) => (n === at ? act : one)) })
const take = (at: number) =>
  (definition.value = { ...definition.value, then: definition.value.then.filter((_, n) => n !== at) })
const add = () =>
  (definition.value = { ...definition.value, then: [...definition.value.then, newAct('notify', fields.value)] })
const setFilter = (only_if: Filter | null) => (definition.value = { ...definition.value, only_if })
const picked = (event: Event) => (event.target as HTMLInputElement).value

function pickField(field: string) {
  if (when.value.sort === 'becomes')
    when.value = { ...when.value, field, value: firstValue(fields.value?.looks_at.find((one) => one.name === field)) }
  else if (when.value.sort === 'day_comes') when.value = { ...when.value, field }
}

async function tryIt() {
  const body = { product: product.value, definition: definition.value, rule: props.rule?.id }
  tried.value = await attempt(() => value(api.POST('/api/v1/rules/try', { body })))
  await nextTick()
  result.value?.scrollIntoView({ block: 'nearest' })
}

async function keep() {
  const body = {
    product: product.value,
    title: title.value,
    definition: definition.value,
    runs: props.rule?.runs ?? true,
    rev: props.rule?.rev ?? 0,
  }
  const done = props.rule
    ? save(value(api.PATCH('/api/v1/rules/{id}', { params: { path: { id: props.rule.id } }, body })))
    : save(value(api.POST('/api/v1/rules', { body })))
  if (await done) emit('done')
}
</script>

<template>
  <form class="rule" :aria-label="rule ? `The rule ${rule.title}` : 'A new rule'" @submit.prevent="keep">
    <label class="title"
      ><span class="small quiet">What the rule is called</span>
      <input v-model="title" class="form-control" required maxlength="120" placeholder="Such as: A must is chosen"
    /></label>
    <fieldset>
      <legend>When</legend>
      <div class="row-flex wraps">
        <select
          class="form-select"
          aria-label="What sets it off"
          :value="when.sort"
          @change="when = newWhen(picked($event) as When['sort'], fields?.looks_at ?? [])"
        >
          <option v-for="[sort, words] in offered" :key="sort" :value="sort">{{ words }}</option>
        </select>
        <span>among the</span>
        <select
          class="form-select"
          aria-label="Collection"
          :value="definition.collection"
          @change="pickCollection(picked($event) as Collection)"
        >
          <option v-for="one in RULED" :key="one" :value="one">{{ KINDS[one].plural }}</option>
        </select>
      </div>
      <div v-if="when.sort === 'becomes'" class="row-flex wraps">
        <select
          class="form-select"
          aria-label="Field that changes"
          :value="when.field"
          @change="pickField(picked($event))"
        >
          <option v-for="one in fields?.looks_at" :key="one.name" :value="one.name">{{ one.label }}</option>
        </select>
        <span>becomes</span>
        <RuleValue
          :model-value="when.value"
          :field="waitsFor"
          label="Value that it becomes"
          @update:model-value="when = { ...when, value: $event } as When"
        />
      </div>
      <div v-else-if="when.sort === 'day_comes'" class="row-flex wraps">
        <select class="form-select" aria-label="Day" :value="when.field" @change="pickField(picked($event))">
          <option v-for="one in days" :key="one.name" :value="one.name">{{ one.label }}</option>
        </select>
        <label class="row-flex"
          ><input
            class="form-control short"
            type="number"
            min="-365"
            max="365"
            :value="when.days"
            @input="when = { ...when, days: Number(picked($event)) } as When"
          />
          days after it; less than 0 for before</label
        >
      </div>
    </fieldset>
    <fieldset>
      <legend>If</legend>
      <template v-if="definition.only_if">
        <FilterGroup :filter="definition.only_if" top @change="setFilter" />
        <button type="button" class="btn btn-plain add" @click="setFilter(null)">always, whatever it is</button>
      </template>
      <p v-else class="row-flex">
        <span class="quiet">always</span>
        <button type="button" class="btn btn-outline" @click="setFilter({ and: [] })">Only if …</button>
      </p>
      <p class="small quiet">A rule looks at what stands in the thing itself, as it is after the change.</p>
    </fieldset>
    <fieldset>
      <legend>Then</legend>
      <ActForm
        v-for="(act, n) in definition.then"
        :key="n"
        :act="act"
        :fields="fields"
        :n="n + 1"
        @change="put(n, $event)"
        @remove="take(n)"
      />
      <button type="button" class="btn btn-outline add" @click="add">Add a step</button>
    </fieldset>
    <div class="row-flex">
      <button type="submit" class="btn btn-primary">{{ rule ? 'Keep the rule' : 'Make the rule' }}</button>
      <button type="button" class="btn btn-outline" @click="tryIt">What would it have done?</button>
      <button type="button" class="btn btn-plain" @click="emit('done')">leave it</button>
    </div>
    <section v-if="tried" ref="result" aria-live="polite" data-tried>
      <p>
        In the last 30 days it would have run
        <b>{{ tried.fired === 1 ? 'once' : `${tried.fired} times` }}</b><template v-if="tried.stopped"
          >, and been stopped {{ tried.stopped }} times</template
        >. Nothing was changed, and whether each step could have been done was not tried.
      </p>
      <RunLines :lines="tried.lines" />
    </section>
  </form>
</template>

<style scoped>
.rule {
  display: grid;
  gap: 14px;
  max-width: 760px;
}
fieldset {
  display: grid;
  gap: 8px;
}
legend {
  font-size: 15px;
  font-weight: 700;
  margin: 0;
}
.title {
  display: grid;
}
.wraps {
  flex-wrap: wrap;
}
.wraps .form-select {
  width: auto;
}
.wraps .form-control {
  width: 180px;
}
.wraps .form-control.short {
  width: 80px;
}
p {
  margin: 0;
}
.add {
  justify-self: start;
}
</style>
