<script setup lang="ts">
import { computed } from 'vue'
import { useFiltered } from './context'
import { fieldOf, firstValue, newTest, OPERATORS, PERIODS, shown, type Operator, type Test } from './model'

/** One condition: a field, how it is looked at, and with what it is compared. */
const props = defineProps<{ test: Test }>()
const emit = defineEmits<{ change: [test: Test]; remove: [] }>()
const { fields, team } = useFiltered()
const field = computed(() => fieldOf(fields.value, props.test.field))
const shape = computed(() => (field.value ? field.value.shape : 'text'))
const none = computed(() => props.test.operator === 'empty' || props.test.operator === 'filled')
const picked = (event: Event) => (event.target as HTMLInputElement).value

function pickField(name: string) {
  const next = fieldOf(fields.value, name)
  if (next) emit('change', newTest(next))
}

function pickOperator(operator: Operator) {
  const keep = !none.value && operator !== 'empty' && operator !== 'filled'
  emit('change', { ...props.test, operator, value: keep ? props.test.value : firstValue(shape.value, operator) })
}

const give = (value: unknown) => emit('change', { ...props.test, value })
const chosen = computed<unknown[]>(() => (Array.isArray(props.test.value) ? props.test.value : []))
const toggle = (key: unknown) =>
  give(chosen.value.includes(key) ? chosen.value.filter((one) => one !== key) : [...chosen.value, key])

const period = computed(() => (props.test.value as { relative?: string } | undefined)?.relative ?? 'day')
const choices = computed<{ key: unknown; label: string }[]>(() => {
  const of = field.value
  if (of && 'choices' in of) return of.choices
  if (of?.type === 'member')
    return [{ key: 'me', label: 'me' }, ...team.value.map((one) => ({ key: one.id, label: one.name }))]
  return []
})
const ids = (text: string) => (text.match(/\d+/g) ?? []).map(Number)
</script>

<template>
  <div class="line" data-condition>
    <select class="form-select" aria-label="Field" :value="test.field" @change="pickField(picked($event))">
      <option v-if="!field" :value="test.field">a field that is not there</option>
      <option v-for="one in shown(fields)" :key="one.name" :value="one.name">{{ one.label }}</option>
    </select>
    <select
      class="form-select"
      aria-label="How it is looked at"
      :value="test.operator"
      @change="pickOperator(picked($event) as Operator)"
    >
      <option v-for="[operator, words] in OPERATORS[shape]" :key="operator" :value="operator">{{ words }}</option>
    </select>
    <template v-if="!none">
      <span v-if="shape === 'day' || shape === 'days'" class="row-flex">
        <select
          class="form-select"
          aria-label="Which days"
          :value="period"
          @change="
            give(picked($event) === 'day' ? new Date().toISOString().slice(0, 10) : { relative: picked($event) })
          "
        >
          <option value="day">a day</option>
          <option v-for="[name, words] in PERIODS" :key="name" :value="name">{{ words }}</option>
        </select>
        <input
          v-if="period === 'day'"
          type="date"
          class="form-control"
          aria-label="Day"
          :value="test.value"
          @change="give(picked($event))"
        />
      </span>
      <span v-else-if="choices.length" class="row-flex choices">
        <label v-for="one in choices" :key="String(one.key)"
          ><input type="checkbox" :checked="chosen.includes(one.key)" @change="toggle(one.key)" />
          {{ one.label }}</label
        >
      </span>
      <select
        v-else-if="shape === 'yes'"
        class="form-select"
        aria-label="Value"
        :value="String(test.value)"
        @change="give(picked($event) === 'true')"
      >
        <option value="true">yes</option>
        <option value="false">no</option>
      </select>
      <input
        v-else-if="shape === 'number'"
        type="number"
        step="any"
        class="form-control"
        aria-label="Value"
        :value="test.value"
        @change="give(Number(picked($event)))"
      />
      <input
        v-else-if="shape === 'links'"
        class="form-control"
        aria-label="References"
        placeholder="references such as I4, I9"
        :value="chosen.join(', ')"
        @change="give(ids(picked($event)))"
      />
      <input v-else class="form-control" aria-label="Value" :value="test.value" @change="give(picked($event))" />
    </template>
    <button type="button" class="btn btn-plain" aria-label="Take the condition away" @click="emit('remove')">✕</button>
  </div>
</template>

<style scoped>
.line {
  align-items: start;
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.form-select,
.form-control {
  width: auto;
}
.choices {
  flex: 1;
  gap: 2px 10px;
}
</style>
