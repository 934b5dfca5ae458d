<script setup lang="ts">
import { ROLES } from '@/shared/rights'
import { computed } from 'vue'
import { useTeam } from '@/api/collections'
import { useTeams } from '@/api/queries'
import type { Schemas } from '@/api/client'
import { words } from '@/shared/words'
import RuleValue from './RuleValue.vue'
import { ACTS, firstValue, newAct, type Act } from './ruleForm'

/** One step of what a rule does. */
const props = defineProps<{ act: Act; fields: Schemas['RuleFields'] | undefined; n: number }>()
const emit = defineEmits<{ change: [act: Act]; remove: [] }>()
const { data: people } = useTeam()
const { data: teams } = useTeams()
const label = computed(() => `Step ${props.n}`)
const members = computed(() => (props.fields?.looks_at ?? []).filter((one) => one.type === 'member'))
/** The field that is set. */
const setsField = computed(() => {
  const { act } = props
  return act.act === 'set' ? props.fields?.sets.find((one) => one.name === act.field) : undefined
})
/** The field whose person is told. */
const tells = computed(() => (props.act.act === 'notify' ? props.act.field : undefined))
const set = (part: Partial<Act>) => emit('change', { ...props.act, ...part } as Act)
const toggle = <T,>(all: readonly T[], one: T) => (all.includes(one) ? all.filter((it) => it !== one) : [...all, one])
const picked = (event: Event) => (event.target as HTMLInputElement).value

function pickField(name: string) {
  if (props.act.act !== 'set') return
  set({ field: name, value: firstValue(props.fields?.sets.find((one) => one.name === name)) })
}
</script>

<template>
  <div class="act" :data-act="act.act">
    <div class="row-flex">
      <select
        class="form-select"
        :aria-label="label"
        :value="act.act"
        @change="emit('change', newAct(picked($event) as Act['act'], fields))"
      >
        <option
          v-for="[name, says] in ACTS"
          :key="name"
          :value="name"
          :disabled="name === 'move' && !fields?.moves_to.length"
        >
          {{ says }}
        </option>
      </select>
      <button type="button" class="btn btn-plain spacer" :aria-label="`Take away step ${n}`" @click="emit('remove')">
        take away
      </button>
    </div>
    <div v-if="act.act === 'set'" class="row-flex">
      <select class="form-select" aria-label="Field to set" :value="act.field" @change="pickField(picked($event))">
        <option v-for="one in fields?.sets" :key="one.name" :value="one.name">{{ one.label }}</option>
      </select>
      <span>to</span>
      <RuleValue
        :model-value="act.value"
        :field="setsField"
        label="Value to set"
        @update:model-value="set({ value: $event })"
      />
    </div>
    <div v-else-if="act.act === 'move'" class="row-flex">
      <select class="form-select" aria-label="State to move to" :value="act.to" @change="set({ to: picked($event) })">
        <option v-for="one in fields?.moves_to" :key="one" :value="one">{{ words(one) }}</option>
      </select>
      <label v-if="act.to === 'handed_over'" class="row-flex"
        >to
        <select class="form-select" :value="act.team ?? ''" @change="set({ team: Number(picked($event)) || null })">
          <option value="">its own team</option>
          <option v-for="one in teams" :key="one.id" :value="one.id">{{ one.name }}</option>
        </select></label
      >
    </div>
    <div v-else-if="act.act === 'create'" class="row-flex">
      <select
        class="form-select"
        aria-label="Where it hangs"
        :value="act.field"
        @change="set({ field: picked($event) })"
      >
        <option v-for="one in fields?.adds" :key="one.name" :value="one.name">{{ one.label }}</option>
      </select>
      <input
        class="form-control"
        aria-label="What it is called"
        placeholder="What it is called, such as: Build {title}"
        :value="act.title"
        @input="set({ title: picked($event) })"
      />
    </div>
    <template v-else>
      <fieldset v-if="act.act === 'notify'" class="whom">
        <legend class="small quiet">Whom</legend>
        <label v-for="one in people" :key="one.id"
          ><input
            type="checkbox"
            :checked="act.people?.includes(one.id)"
            @change="set({ people: toggle(act.people ?? [], one.id) })"
          />
          {{ one.name }}</label
        >
        <label v-for="one in ROLES" :key="one"
          ><input
            type="checkbox"
            :checked="act.roles?.includes(one)"
            @change="set({ roles: toggle(act.roles ?? [], one) })"
          />
          every {{ one }}</label
        >
        <label v-for="one in members" :key="one.name"
          ><input
            type="checkbox"
            :checked="tells === one.name"
            @change="set({ field: tells === one.name ? null : one.name })"
          />
          {{ one.label.toLowerCase() }}</label
        >
      </fieldset>
      <textarea
        class="form-control"
        rows="2"
        :aria-label="act.act === 'notify' ? 'What they are told' : 'What the comment says'"
        placeholder="Words; {reference} and {title} stand for the thing"
        :value="act.words"
        @input="set({ words: picked($event) })"
      />
    </template>
  </div>
</template>

<style scoped>
.act {
  border-left: 1px solid var(--rule);
  display: grid;
  gap: 6px;
  padding: 2px 0 2px 12px;
}
.row-flex > .form-select {
  width: auto;
}
.whom {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
}
.whom legend {
  float: none;
  margin: 0;
  width: auto;
}
.whom label {
  align-items: center;
  display: flex;
  gap: 5px;
  min-height: 24px;
}
</style>
