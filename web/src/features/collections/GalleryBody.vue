<script setup lang="ts">
import { computed } from 'vue'
import type { RowView } from '@/api/collections'
import { attachment } from '@/api/files'
import { useSelection } from '@/shared/selection'
import { count as countWords } from '@/shared/words'
import { useCollection } from './context'
import { fieldOf, shown } from './model'
import NothingHere from './NothingHere.vue'
import { useGrowing } from './rows'
import { file } from './text'
import RowFields from './RowFields.vue'

/** Cards side by side. A field with the address of a picture in this workspace gives each its picture. */
const { ask, collection, definition, fields, state } = useCollection()
const { select, isSelected } = useSelection()
const { rows, count, isPending, onScroll, cut } = useGrowing(() => ask([definition.value.picture]), 60)
const addresses = computed(() =>
  shown(fields.value).filter((field) => field.type === 'file' || field.type === 'web_address'),
)
/** The address of a row's picture: a file that was put in, or a page of this workspace; nothing else is loaded. */
function addressOf(row: RowView) {
  const value = picture.value && row.values[picture.value.name]
  const held = file(value)
  if (held) return held.media_type.startsWith('image/') ? attachment(held.id) : undefined
  return typeof value === 'string' && value.startsWith(`${location.origin}/`) ? value : undefined
}
const picture = computed(() => fieldOf(fields.value, definition.value.picture))
</script>

<template>
  <div class="gallery" :aria-busy="isPending" @scroll.passive="onScroll">
    <label v-if="addresses.length" class="small quiet choice"
      >Picture from
      <select
        class="form-select"
        :value="picture?.name ?? ''"
        @change="state.change({ picture: ($event.target as HTMLSelectElement).value || undefined })"
      >
        <option value="">no field</option>
        <option v-for="one in addresses" :key="one.name" :value="one.name">{{ one.label }}</option>
      </select>
    </label>
    <ul aria-label="Gallery">
      <li v-for="row in rows" :key="row.id" :data-row="row.id">
        <button
          type="button"
          class="card-thing"
          :class="{ 'selected-thing': isSelected(collection, row.id) }"
          @click="select(collection, row.id)"
          @focus="select(collection, row.id)"
        >
          <img v-if="addressOf(row)" :src="addressOf(row)" alt="" loading="lazy" />
          <span v-else-if="picture" class="without small quiet">no picture</span>
          <b>{{ row.title }}</b>
          <span class="small quiet">{{ row.reference }}</span>
          <RowFields :row="row" />
        </button>
      </li>
    </ul>
    <NothingHere v-if="!isPending && count === 0" />
    <p v-if="cut" class="quiet">The first 500 of {{ countWords(count, 'row') }}. Filter, or look at them as a table.</p>
  </div>
</template>

<style scoped>
.gallery {
  flex: 1;
  min-height: 0;
  overflow: auto;
  padding: 12px 16px;
}
.choice {
  align-items: center;
  display: flex;
  gap: 6px;
  margin-bottom: 8px;
}
.choice select {
  width: auto;
}
ul {
  display: grid;
  gap: 12px;
  grid-template-columns: repeat(auto-fill, minmax(200px, 1fr));
  list-style: none;
  margin: 0;
  padding: 0;
}
button {
  align-content: start;
  color: inherit;
  display: grid;
  gap: 2px;
  grid-template-columns: minmax(0, 1fr);
  height: 100%;
  text-align: left;
  width: 100%;
}
img,
.without {
  background: var(--paper);
  border-radius: 4px;
  height: 96px;
  margin-bottom: 4px;
  object-fit: cover;
  width: 100%;
}
.without {
  display: grid;
  place-items: center;
}
b {
  font-weight: 600;
  overflow-wrap: anywhere;
}
</style>
