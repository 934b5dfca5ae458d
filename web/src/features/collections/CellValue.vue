<script setup lang="ts">
import { computed } from 'vue'
import type { FieldDef } from '@/api/collections'
import { attachment } from '@/api/files'
import KiteMark from '@/shared/KiteMark.vue'
import FigureDrawing from './FigureDrawing.vue'
import { useCollection } from './context'
import { file, textOf } from './text'

/** A value as people read it. States are small kites; a yes is a tick with its word for those who hear it. */
const props = defineProps<{ field: FieldDef; value: unknown }>()
const { team } = useCollection()
const text = computed(() => textOf(props.field, props.value, team.value))
const state = computed(
  () => (props.field.name === 'state' || props.field.name === 'outcome') && typeof props.value === 'string',
)
const held = computed(() => (props.field.type === 'file' ? file(props.value) : undefined))
const share = computed(() =>
  props.field.type === 'rolled_up' && props.field.measure === 'share_done' && typeof props.value === 'number'
    ? props.value
    : undefined,
)
</script>

<template>
  <KiteMark v-if="state" :state="String(value)" />
  <span v-else-if="field.name === 'trouble' && text" class="hatch trouble">{{ text }}</span>
  <a
    v-else-if="field.type === 'web_address' && text"
    class="thing"
    :href="text"
    target="_blank"
    rel="noopener noreferrer"
    >{{ text.replace(/^https?:\/\//, '') }}</a
  >
  <a v-else-if="held" class="thing" :href="attachment(held.id)" target="_blank" rel="noopener">{{ held.name }}</a>
  <span v-else-if="share !== undefined" class="share">
    <svg width="44" height="10" aria-hidden="true">
      <rect x="0.5" y="0.5" width="43" height="9" fill="none" stroke="var(--quiet)" />
      <rect x="0.5" y="0.5" :width="43 * share" height="9" fill="var(--quiet)" />
    </svg>
    {{ text }}</span
  >
  <FigureDrawing v-else-if="field.type === 'drawn'" :drawing="field.drawing" :value="value" />
  <template v-else>{{ text }}</template>
</template>

<style scoped>
.trouble {
  border: 1px solid var(--ink);
  font-weight: 600;
  padding: 1px 8px;
}
.share {
  align-items: center;
  display: inline-flex;
  gap: 6px;
}
</style>
