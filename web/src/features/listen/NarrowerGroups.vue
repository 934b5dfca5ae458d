<script setup lang="ts">
import { ref, watch } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useNarrower } from '@/api/queries'
import { useSave } from '@/api/save'
import { count } from '@/shared/words'

/** The narrower groups that a finding opens into: each can become a finding of its own. */
const props = defineProps<{ id: number }>()
const { save } = useSave()
const { data: groups, isPending } = useNarrower(() => props.id)
const titles = ref<string[]>([])
watch(groups, (all) => (titles.value = all?.map((one) => one.title) ?? []), { immediate: true })

const split = (group: Schemas['Narrower'], at: number) => {
  const body = { title: titles.value[at] ?? group.title, excerpts: group.excerpts }
  return save(value(api.POST('/api/v1/listen/findings/{id}/split', { params: { path: { id: props.id } }, body })))
}
</script>

<template>
  <div data-narrower>
    <p v-if="isPending" class="quiet" role="status">Looking …</p>
    <p v-else-if="!groups?.length" class="quiet">It says one thing; nothing narrower was found in it.</p>
    <ul v-else class="stacked">
      <li v-for="(group, at) in groups" :key="at" class="guessed">
        <label
          ><span class="visually-hidden">Name of the narrower finding</span
          ><input v-model="titles[at]" class="form-control" maxlength="300"
        /></label>
        <div class="row-flex small quiet">
          <span>{{ count(group.excerpts.length, 'excerpt') }}</span>
          <span>{{ group.phrases.join(' · ') }}</span>
          <button type="button" class="btn btn-outline" @click="split(group, at)">Make it a finding of its own</button>
        </div>
      </li>
    </ul>
  </div>
</template>

<style scoped>
label {
  display: block;
}
.row-flex {
  flex-wrap: wrap;
  margin-top: 4px;
}
</style>
