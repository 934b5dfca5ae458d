<script setup lang="ts">
import { computed } from 'vue'
import { conflict } from '@/api/save'
import { words } from '@/shared/words'

/** Two people changed the same field: both versions are shown and one is picked. */
const shown = computed({
  get: () => conflict.value !== undefined,
  // Closing the window keeps what the other one wrote: nothing is overwritten in silence.
  set: (open) => !open && conflict.value?.pick(false),
})
const text = (value: unknown) => (value == null || value === '' ? 'empty' : String(value))
</script>

<template>
  <BModal v-model="shown" title="Somebody changed this in the meantime" no-footer>
    <p class="quiet">Both versions are kept until you pick one. The other one stays in the history.</p>
    <div v-for="(mine, name) in conflict?.mine ?? {}" :key="name" class="versions">
      <h3>{{ words(String(name)) }}</h3>
      <div class="card-thing">
        <div class="small quiet">theirs, saved</div>
        <div data-theirs>{{ text(conflict?.theirs[name]) }}</div>
      </div>
      <div class="card-thing guessed">
        <div class="small quiet">yours, not saved</div>
        <div data-mine>{{ text(mine) }}</div>
      </div>
      <div class="small quiet">It was: {{ text(conflict?.base[name]) }}</div>
    </div>
    <div class="row-flex buttons">
      <button type="button" class="btn btn-outline" @click="conflict?.pick(false)">Keep theirs</button>
      <button type="button" class="btn btn-primary" @click="conflict?.pick(true)">Save mine over it</button>
    </div>
  </BModal>
</template>

<style scoped>
h3 {
  font-size: 15px;
  grid-column: 1 / -1;
  margin: 0;
}
.versions {
  display: grid;
  gap: 8px;
  grid-template-columns: 1fr 1fr;
}
.versions > .small {
  grid-column: 1 / -1;
}
.buttons {
  justify-content: flex-end;
  margin-top: 16px;
}
</style>
