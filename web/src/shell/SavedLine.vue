<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { nextTick, ref, useTemplateRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, value } from '@/api/client'
import { useRefresh } from '@/api/queries'
import { line, useSave } from '@/api/save'

/** The quiet line: what was saved, with undo; or what went wrong and what to do. */
const { save } = useSave()
const refresh = useRefresh()
const route = useRoute()
const shown = ref(false)
let timer = 0

watch(
  () => line.at,
  () => {
    shown.value = true
    clearTimeout(timer)
    // Trouble stays until it was read.
    if (!line.problem) timer = window.setTimeout(() => (shown.value = false), 9000)
  },
)

/** Trouble takes room of its own, so that it lies over nothing that somebody has to mend. */
const { height } = useElementSize(useTemplateRef('trouble'), undefined, { box: 'border-box' })
watch(height, async (height) => {
  document.documentElement.style.setProperty('--trouble', height ? `${height + 24}px` : '0px')
  await nextTick()
  if (height) document.activeElement?.scrollIntoView({ block: 'nearest' })
})

/** What is still not answered says so again. */
function askAgain() {
  shown.value = false
  void refresh()
}
const undo = (id: number) => save(value(api.POST('/api/v1/changes/{id}/undo', { params: { path: { id } } })))
</script>

<template>
  <div class="place" role="status" aria-live="polite">
    <div v-if="shown && line.problem" ref="trouble" class="line trouble">
      <span class="hatch sign" aria-hidden="true"></span>
      <div>
        <b>{{ line.problem.title }}.</b> {{ line.problem.detail }}
        <RouterLink
          v-if="line.problem.code === 'not-signed-in'"
          :to="{ name: 'sign-in', query: { back: route.fullPath } }"
          target="_blank"
          >Sign in in another tab</RouterLink
        >
      </div>
      <button v-if="line.unanswered" type="button" class="btn btn-plain" @click="askAgain">Try again</button>
      <button type="button" class="btn btn-plain" @click="shown = false">Close</button>
    </div>
    <div v-else-if="shown && line.saved" class="line">
      <span>Saved: {{ line.saved.label }}</span>
      <button v-if="line.saved.change" type="button" class="btn btn-plain" @click="undo(line.saved.change)">
        Undo
      </button>
    </div>
  </div>
</template>

<style scoped>
.place {
  bottom: 12px;
  left: 16px;
  max-width: min(620px, calc(100vw - 32px));
  position: fixed;
  z-index: 30;
}
.line {
  align-items: center;
  background: var(--panel);
  border: 1px solid var(--field);
  border-radius: 6px;
  display: flex;
  font-size: 14px;
  gap: 12px;
  padding: 5px 12px;
}
.line button {
  flex: none;
}
.trouble {
  border-color: var(--ink);
}
.sign {
  align-self: stretch;
  border: 1px solid var(--ink);
  flex: none;
  width: 12px;
}
</style>
