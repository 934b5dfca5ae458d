<script setup lang="ts">
import { api, value, type Schemas, type Thing } from '@/api/client'
import { useHistory } from '@/api/queries'
import { useSave } from '@/api/save'
import { moment, withDays } from '@/shared/words'

/** What was changed about a thing, by whom, in words. A change is taken back whole, or one value of it by itself. */
const props = defineProps<{ thing: Thing }>()
const { data } = useHistory(() => props.thing)
const { save } = useSave()
type Line = Schemas['HistoryLine']
type Part = Line['changes'][number]

const by = (line: Line) => line.who ?? (line.way === 'rule' ? 'by a rule' : 'by a command')
const undo = (id: number) => save(value(api.POST('/api/v1/changes/{id}/undo', { params: { path: { id } } })))
const undoPart = (id: number, { thing, names }: Part) =>
  save(value(api.POST('/api/v1/changes/{id}/undo/part', { params: { path: { id } }, body: { thing, names } })))
</script>

<template>
  <ol aria-label="History" data-history>
    <li v-for="line in data" :key="line.id" :data-change="line.id">
      <div class="small row-flex">
        <span
          ><b>{{ by(line) }}</b> <span class="quiet">{{ moment(line.at) }}</span></span
        >
        <span v-if="line.undone" class="quiet spacer">taken back</span>
        <button
          v-else
          type="button"
          class="btn btn-plain spacer"
          :aria-label="`Undo all of: ${line.label}`"
          @click="undo(line.id)"
        >
          undo
        </button>
      </div>
      <ul v-if="line.changes.length">
        <li v-for="part in line.changes" :key="part.words" class="row-flex">
          <span>{{ withDays(part.words) }}</span>
          <button
            v-if="!line.undone && line.changes.length > 1"
            type="button"
            class="btn btn-plain spacer small"
            :aria-label="`Undo this: ${part.words}`"
            @click="undoPart(line.id, part)"
          >
            undo this
          </button>
        </li>
        <li v-if="line.more" class="small quiet">and {{ line.more }} more · {{ line.label }}</li>
      </ul>
      <div v-else>{{ line.label }}</div>
    </li>
  </ol>
</template>

<style scoped>
ol,
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
ol > li {
  border-bottom: 1px solid var(--rule);
  padding: 7px 0;
}
ol > li:last-child {
  border-bottom: 0;
  padding-bottom: 44px;
}
li span {
  min-width: 0;
  overflow-wrap: anywhere;
}
.btn {
  --bs-btn-padding-x: 2px;
  white-space: nowrap;
}
</style>
