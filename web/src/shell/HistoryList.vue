<script setup lang="ts">
import { ref } from 'vue'
import { api, value, type Thing } from '@/api/client'
import { useHistory } from '@/api/queries'
import { useSave } from '@/api/save'
import { moment } from '@/shared/words'

/** What was changed about a thing, by whom; each can be taken back by itself. */
const props = defineProps<{ thing: Thing }>()
const open = ref(false)
const { data } = useHistory(() => (open.value ? props.thing : undefined))
const { save } = useSave()
const undo = (id: number) => save(value(api.POST('/api/v1/changes/{id}/undo', { params: { path: { id } } })))
</script>

<template>
  <section>
    <button type="button" class="btn btn-plain" :aria-expanded="open" @click="open = !open">History</button>
    <ol v-if="open">
      <li v-for="change in data" :key="change.id">
        <div>{{ change.label }}</div>
        <div class="small quiet row-flex">
          {{ change.who ?? 'by a command' }}, {{ moment(change.at) }}
          <span v-if="change.undone">· taken back</span>
          <button
            v-else
            type="button"
            class="btn btn-plain spacer"
            :aria-label="`Undo: ${change.label}`"
            @click="undo(change.id)"
          >
            Undo
          </button>
        </div>
      </li>
    </ol>
  </section>
</template>

<style scoped>
section {
  border-top: 1px solid var(--rule);
  margin-top: 16px;
  padding-top: 8px;
}
ol {
  list-style: none;
  margin: 6px 0 0;
  padding: 0;
}
li {
  border-bottom: 1px solid var(--rule);
  padding: 5px 0;
}
</style>
