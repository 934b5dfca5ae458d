<script setup lang="ts">
import { ref } from 'vue'
import { useTeam } from '@/api/collections'
import { useTeams } from '@/api/queries'
import TeamForm from './TeamForm.vue'

/** The teams that stories are handed over to. */
const props = defineProps<{ removable: readonly number[] }>()
const emit = defineEmits<{ changed: [] }>()
const { data: teams } = useTeams()
const { data: everybody } = useTeam()
/** Which team is open; 0 for a new one. */
const open = ref<number>()
function done() {
  open.value = undefined
  emit('changed')
}
const names = (people: readonly number[]) =>
  (everybody.value ?? []).filter((one) => people.includes(one.id)).map((one) => one.name)
</script>

<template>
  <section aria-labelledby="teams">
    <h2 id="teams">Teams</h2>
    <ul>
      <li v-for="one in teams" :key="one.id" :class="{ open: open === one.id }">
        <div v-if="open !== one.id">
          {{ one.name }}
          <div class="small quiet">
            {{ one.columns.map((column) => column.title).join(' → ') }}<br />
            {{ names(one.people).join(', ') || 'nobody belongs to it yet' }}
          </div>
        </div>
        <TeamForm v-if="open === one.id" :team="one" :may-remove="props.removable.includes(one.id)" @done="done" />
        <button
          v-else
          type="button"
          class="btn btn-outline spacer"
          :aria-label="`Change the team ${one.name}`"
          @click="open = one.id"
        >
          Change
        </button>
      </li>
    </ul>
    <TeamForm v-if="open === 0" @done="done" />
    <button v-else type="button" class="btn btn-outline" @click="open = 0">Add a team</button>
  </section>
</template>

<style scoped>
li.open {
  display: block;
}
</style>
