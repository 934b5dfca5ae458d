<script setup lang="ts">
import { ref, watch } from 'vue'
import { api, value } from '@/api/client'
import { useFindingExcerpts } from '@/api/queries'
import { useSave } from '@/api/save'
import { count } from '@/shared/words'
import ExcerptLine from './ExcerptLine.vue'

/** The excerpts behind a finding; chosen ones can be taken away. */
const props = defineProps<{ id: number }>()
const { save } = useSave()
const { data: excerpts } = useFindingExcerpts(() => props.id)
const chosen = ref<number[]>([])
watch(
  () => props.id,
  () => (chosen.value = []),
)

function choose(excerpt: number, on: boolean) {
  chosen.value = on ? [...chosen.value, excerpt] : chosen.value.filter((one) => one !== excerpt)
}

async function takeAway() {
  const change = { params: { path: { id: props.id } }, body: { add: [], remove: chosen.value } }
  if (await save(value(api.POST('/api/v1/listen/findings/{id}/excerpts', change)))) chosen.value = []
}
</script>

<template>
  <div>
    <div class="row-flex head">
      <h3>{{ count(excerpts?.length ?? 0, 'excerpt') }}</h3>
      <button v-if="chosen.length" type="button" class="btn btn-outline" @click="takeAway">
        Take {{ chosen.length }} away
      </button>
    </div>
    <ul>
      <ExcerptLine
        v-for="excerpt in excerpts"
        :key="excerpt.id"
        :excerpt="excerpt"
        :chosen="chosen.includes(excerpt.id)"
        where
        @choose="choose(excerpt.id, $event)"
      />
    </ul>
  </div>
</template>

<style scoped>
.head {
  min-height: 34px;
}
h3 {
  font-size: 15px;
  margin: 0;
}
ul {
  display: grid;
  gap: 8px;
  list-style: none;
  margin: 0;
  padding: 0;
}
</style>
