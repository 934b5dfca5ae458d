<script setup lang="ts">
/** How much of the way of an objective something is to bring, in percent; empty where nobody can say. */
const props = defineProps<{ part?: number | null; name: string }>()
const emit = defineEmits<{ set: [part: number | null] }>()

function set(field: HTMLInputElement) {
  const part = field.value === '' ? null : Math.min(100, Math.max(0, Number(field.value))) / 100
  if (part !== (props.part ?? null)) emit('set', part)
}
</script>

<template>
  <input
    class="form-control"
    type="number"
    min="0"
    max="100"
    placeholder="?"
    :value="part == null ? '' : Math.round(part * 100)"
    :aria-label="`How much of the way of ${name} is brought, in percent`"
    @change="set($event.target as HTMLInputElement)"
  />
</template>

<style scoped>
.form-control {
  display: inline-block;
  min-height: 26px;
  padding: 1px 4px;
  text-align: right;
  width: 62px;
}
</style>
