<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, value } from '@/api/client'
import { takeout } from '@/api/files'
import { useBoard, useIdeas } from '@/api/queries'
import { useSave } from '@/api/save'
import EmptyPlace from '@/shared/EmptyPlace.vue'
import { useSelection } from '@/shared/selection'
import StageFrame from '@/shared/StageFrame.vue'
import { SPECIFY } from '@/shared/tabs'
import { count } from '@/shared/words'
import EpicBlock from './EpicBlock.vue'

const { product, select } = useSelection()
const { data: board, error, isPending } = useBoard(product)
const { data: ideas } = useIdeas(product)
const { save } = useSave()
const title = ref('')

/** Chosen ideas that nobody has written out yet. */
const waiting = computed(() => (ideas.value ?? []).filter((idea) => idea.state === 'chosen' && idea.epics.length === 0))
const loose = computed(() => (board.value?.stories ?? []).filter((story) => story.epic == null))

async function addEpic(idea?: number) {
  const body = { product_id: product.value, idea_id: idea, title: idea === undefined ? title.value : undefined }
  const saved = await save(value(api.POST('/api/v1/specify/epics', { body })))
  if (!saved?.thing) return
  title.value = ''
  select('work_item', saved.thing.id)
}
</script>

<template>
  <StageFrame :tabs="SPECIFY" :busy="isPending" :problem="error?.message">
    <template #tools>
      <a class="btn btn-outline" :href="takeout.stories(product)">Stories as CSV</a>
      <form class="row-flex" @submit.prevent="addEpic()">
        <label>
          <span class="visually-hidden">A new epic</span>
          <input v-model="title" class="form-control" placeholder="a new epic" required />
        </label>
        <button type="submit" class="btn btn-primary">Add</button>
      </form>
    </template>
    <p v-if="waiting.length" class="guessed waiting">
      {{ count(waiting.length, 'chosen idea') }} without an epic:
      <button v-for="idea in waiting" :key="idea.id" type="button" class="btn btn-outline" @click="addEpic(idea.id)">
        Make an epic of I{{ idea.id }} {{ idea.title }}
      </button>
    </p>
    <EmptyPlace v-if="board && board.epics.length === 0 && loose.length === 0" title="Nothing written yet">
      An epic holds the stories that one idea needs. Choose an idea first, then make an epic of it; or begin one above.
      <template #steps
        ><RouterLink class="btn btn-primary" :to="{ name: 'ranking' }">Open the ranking</RouterLink></template
      >
    </EmptyPlace>
    <template v-if="board">
      <EpicBlock
        v-for="epic in board.epics"
        :key="epic.id"
        :epic="epic"
        :stories="board.stories.filter((story) => story.epic === epic.id)"
        :all="board.stories"
      />
      <EpicBlock v-if="loose.length" :stories="loose" :all="board.stories" />
    </template>
  </StageFrame>
</template>

<style scoped>
.waiting {
  align-items: center;
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin: 12px 16px 0;
}
</style>
