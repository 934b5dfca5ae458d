<script setup lang="ts">
import { useId } from 'vue'
import type { Schemas } from '@/api/client'

/** The fields of a request form, each with what is wrong with its answer. */
defineProps<{ fields: readonly Schemas['FormField'][]; faults?: Record<string, string> }>()
const answers = defineModel<Record<string, string>>({ required: true })
const page = useId()
const AUTO: Partial<Record<Schemas['Asks'], string>> = { name: 'name', address: 'email', account: 'organization' }
const long = (field: Schemas['FormField']) => field.asks === 'words' || field.asks === 'more'
</script>

<template>
  <div v-for="field in fields" :key="field.key" class="field" :data-field="field.key">
    <label :for="`${page}-${field.key}`"
      >{{ field.label }} <span v-if="!field.must" class="small quiet">(if you like)</span></label
    >
    <p v-if="field.help" :id="`${page}-${field.key}-help`" class="small quiet">{{ field.help }}</p>
    <textarea
      v-if="long(field)"
      :id="`${page}-${field.key}`"
      v-model="answers[field.key]"
      class="form-control"
      :rows="field.asks === 'words' ? 5 : 3"
      maxlength="5000"
      :required="field.must"
      :aria-invalid="Boolean(faults?.[field.key])"
      :aria-describedby="`${page}-${field.key}-help ${page}-${field.key}-fault`"
    ></textarea>
    <select
      v-else-if="field.asks === 'choice'"
      :id="`${page}-${field.key}`"
      v-model="answers[field.key]"
      class="form-select"
      :required="field.must"
      :aria-invalid="Boolean(faults?.[field.key])"
    >
      <option value=""></option>
      <option v-for="choice in field.choices" :key="choice" :value="choice">{{ choice }}</option>
    </select>
    <input
      v-else
      :id="`${page}-${field.key}`"
      v-model="answers[field.key]"
      class="form-control"
      maxlength="300"
      :type="field.asks === 'address' ? 'email' : 'text'"
      :autocomplete="AUTO[field.asks] ?? 'off'"
      :required="field.must"
      :aria-invalid="Boolean(faults?.[field.key])"
      :aria-describedby="`${page}-${field.key}-help ${page}-${field.key}-fault`"
    />
    <p v-if="faults?.[field.key]" :id="`${page}-${field.key}-fault`" class="fault" role="alert">
      {{ faults[field.key] }}
    </p>
  </div>
</template>

<style scoped>
.field {
  margin-top: 16px;
}
label {
  display: block;
  font-weight: 600;
}
p {
  margin: 0 0 4px;
}
.form-control,
.form-select {
  font-size: 16px;
  min-height: 44px;
}
.fault {
  font-weight: 600;
  margin-top: 4px;
}
.fault::before {
  content: '▲ ';
}
</style>
