<script setup lang="ts">
import { nextTick, ref, watch } from 'vue'
import { clock, type Line } from './conversation'

/** The lines so far, each to be changed or taken away; the newest stays in sight. */
const props = defineProps<{ lines: readonly Line[]; changing?: number }>()
const emit = defineEmits<{ change: [at: number]; remove: [at: number] }>()
const list = ref<HTMLElement>()
watch(
  () => props.lines.length,
  async () => {
    await nextTick()
    list.value?.scrollTo({ top: list.value.scrollHeight })
  },
)
const asks = (at: number) => props.lines[at]?.question && props.lines[at]?.question !== props.lines[at - 1]?.question
</script>

<template>
  <ol ref="list" aria-label="Lines" aria-live="polite">
    <li v-for="(line, n) in lines" :key="n" :class="{ changing: n === changing }">
      <p v-if="asks(n)" class="small quiet">{{ line.question }}</p>
      <div class="row-flex">
        <span class="small quiet number">{{ clock(line.atMs) }}</span>
        <span class="words" dir="auto"
          ><b v-if="line.speaker">{{ line.speaker }}: </b><span v-else class="quiet">seen: </span>{{ line.words }}
          <span v-for="tag in line.tags" :key="tag" class="small quiet">#{{ tag }}&nbsp;</span></span
        >
        <button
          type="button"
          class="btn btn-plain small"
          :aria-label="`Change line ${n + 1}`"
          @click="emit('change', n)"
        >
          Change
        </button>
        <button
          type="button"
          class="btn btn-plain small"
          :aria-label="`Take away line ${n + 1}`"
          @click="emit('remove', n)"
        >
          Take away
        </button>
      </div>
    </li>
    <li v-if="lines.length === 0" class="quiet">
      Write what is said, as it is said; the clock begins with the first letter.
    </li>
  </ol>
</template>

<style scoped>
ol {
  list-style: none;
  margin: 0;
  overflow: auto;
  padding: 4px 16px 12px;
}
li {
  padding: 3px 0;
}
p {
  border-top: 1px solid var(--rule);
  margin: 8px 0 2px;
  padding-top: 6px;
}
.row-flex {
  align-items: baseline;
  flex-wrap: nowrap;
}
.number {
  flex: none;
  width: 48px;
}
.words {
  flex: 1;
  max-width: 70ch;
  overflow-wrap: anywhere;
}
.changing {
  outline: 1.5px solid var(--ink);
}
</style>
