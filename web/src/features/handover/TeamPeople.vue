<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useTeam } from '@/api/collections'
import { useSave } from '@/api/save'
import PopPanel from '@/shared/PopPanel.vue'
import { count } from '@/shared/words'

/** Who belongs to a team: all of them hear when the team is spoken to. */
const props = defineProps<{ team: Schemas['TeamView'] }>()
const { data: everybody } = useTeam()
const { save } = useSave()
const open = ref(false)
const label = computed(() =>
  props.team.people.length ? count(props.team.people.length, 'person', 'people') : 'nobody',
)

function toggle(id: number) {
  const { people } = props.team
  const body = { people: people.includes(id) ? people.filter((one) => one !== id) : [...people, id] }
  return save(value(api.PUT('/api/v1/handover/teams/{id}/people', { params: { path: { id: props.team.id } }, body })))
}
</script>

<template>
  <PopPanel v-model="open" :label="`In ${team.name}: ${label}`">
    <label v-for="one in everybody" :key="one.id" class="row-flex">
      <input type="checkbox" :checked="team.people.includes(one.id)" @change="toggle(one.id)" />
      {{ one.name }}
    </label>
    <p class="small quiet">They hear when somebody speaks to the team.</p>
  </PopPanel>
</template>

<style scoped>
label {
  min-height: 28px;
}
p {
  margin: 6px 0 0;
  max-width: 240px;
}
</style>
