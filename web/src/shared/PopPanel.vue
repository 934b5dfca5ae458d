<script setup lang="ts">
import { nextTick, onUnmounted, ref, useId, watch } from 'vue'

/** A word that opens a small panel below it. Escape and a click elsewhere close it. */
defineProps<{ label: string; quiet?: boolean; wide?: boolean; shortcut?: string }>()
const open = defineModel<boolean>({ default: false })
const place = ref<HTMLElement>()
const button = ref<HTMLButtonElement>()
const id = useId()
const panel = ref<HTMLElement>()
const at = ref<Record<string, string>>({})
/** Less room than this below the word, and the panel goes above it, where there is more. */
const LEAST_ROOM = 240

/** Below its word or above it, moved so far to the left that it is seen whole. */
function settle() {
  if (!button.value || !panel.value) return
  const word = button.value.getBoundingClientRect()
  const left = Math.max(8, Math.min(word.left, window.innerWidth - panel.value.offsetWidth - 8))
  const below = window.innerHeight - word.bottom - 16
  const above = word.top - 16
  const up = below < LEAST_ROOM && above > below
  at.value = {
    left: `${left}px`,
    maxHeight: `${Math.max(160, up ? above : below)}px`,
    ...(up ? { bottom: `${window.innerHeight - word.top + 4}px` } : { top: `${word.bottom + 4}px` }),
  }
}
const sizes = new ResizeObserver(settle)

function outside(event: PointerEvent) {
  if (!place.value?.contains(event.target as Node)) open.value = false
}

function close() {
  open.value = false
  button.value?.focus()
}

function leave() {
  document.removeEventListener('pointerdown', outside, true)
  window.removeEventListener('resize', settle)
  sizes.disconnect()
}

watch(open, async (is) => {
  if (!is) return leave()
  document.addEventListener('pointerdown', outside, true)
  window.addEventListener('resize', settle)
  await nextTick()
  // Above all else on the screen, whatever it stands in.
  panel.value?.showPopover()
  settle()
  if (panel.value) sizes.observe(panel.value)
  place.value?.querySelector<HTMLElement>('.panel :is(button, textarea, select, input:not([type=file]))')?.focus()
})
onUnmounted(leave)
defineExpose({ close })
</script>

<template>
  <span ref="place" class="place" @keydown.esc.stop="close">
    <button
      ref="button"
      type="button"
      class="btn btn-plain word"
      :class="{ unset: quiet }"
      :aria-expanded="open"
      :aria-controls="id"
      :aria-keyshortcuts="shortcut"
      @click="open = !open"
    >
      {{ label }}
    </button>
    <div
      v-if="open"
      :id="id"
      ref="panel"
      popover="manual"
      class="panel"
      :class="{ wide }"
      :style="at"
      role="group"
      :aria-label="label"
    >
      <slot :close="close" />
    </div>
  </span>
</template>

<style scoped>
.place {
  position: relative;
}
.word {
  --bs-btn-padding-x: 3px;
}
.unset {
  color: var(--quiet);
  font-weight: 400;
}
.panel {
  background: var(--panel);
  border: 1px solid var(--field);
  border-radius: 6px;
  color: var(--ink);
  inset: auto;
  margin: 0;
  max-width: calc(100vw - 16px);
  min-width: 220px;
  overflow: auto;
  padding: 10px 12px;
  position: fixed;
}
.wide {
  min-width: min(560px, calc(100vw - 16px));
}
</style>
