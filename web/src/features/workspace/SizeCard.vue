<script setup lang="ts">
import { ref } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useAttempt } from '@/api/attempt'
import { takeout } from '@/api/files'
import { count, figure, moment } from '@/shared/words'

/** How large the workspace is, and its backups. */
defineProps<{ state: Schemas['WorkspaceState'] }>()
const emit = defineEmits<{ made: [] }>()
const attempt = useAttempt()
const busy = ref(false)
const size = (bytes: number) => `${figure(Math.round(bytes / 104_857.6) / 10)} MB`

async function backUp() {
  busy.value = true
  await attempt(() => value(api.POST('/api/v1/workspace/backups'))).finally(() => (busy.value = false))
  emit('made')
}
</script>

<template>
  <section aria-labelledby="size">
    <h2 id="size">Size and backups</h2>
    <p>
      {{ size(state.size.database) }}, of which {{ size(state.size.files) }} are files<template
        v-if="state.size.free > 1_048_576"
      >
        and {{ size(state.size.free) }} are free</template
      >.
      <span class="small quiet"
        >On the server it lies in <code>{{ state.folder }}</code></span
      >
    </p>
    <p v-if="!state.backups.length" class="small quiet">There is no backup in its folder yet.</p>
    <ul>
      <li v-for="one in state.backups" :key="one.name">
        <div>
          {{ moment(one.made_at) }}
          <div class="small quiet">backups/{{ one.name }}, {{ size(one.size) }}</div>
        </div>
      </li>
    </ul>
    <div class="row-flex">
      <button type="button" class="btn btn-outline" :disabled="busy" @click="backUp">
        {{ busy ? 'Copying …' : 'Make a backup now' }}
      </button>
      <a class="btn btn-outline" :href="takeout.workspace">Take everything out as one file</a>
    </div>
    <p class="small quiet">
      {{ count(10, 'backup') }} are kept there, and the oldest goes first; copy them to another machine. One is brought
      back with <code>iron-kite restore</code>.
    </p>
  </section>
</template>

<style scoped>
p {
  margin: 0 0 8px;
}
.row-flex {
  flex-wrap: wrap;
  margin: 8px 0;
}
</style>
