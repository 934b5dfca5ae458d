<script setup lang="ts">
import { computed } from 'vue'
import { useQuery } from '@pinia/colada'
import { api, value } from '@/api/client'
import { useMe } from '@/api/queries'
import ConnectedList from './ConnectedList.vue'
import PeopleTable from './PeopleTable.vue'
import ProductList from './ProductList.vue'
import SizeCard from './SizeCard.vue'
import TeamList from './TeamList.vue'

/** The workspace itself. Whoever edits manages teams; an owner all of it. */
const { data: me } = useMe()
const owner = computed(() => me.value?.role === 'owner')
const edits = computed(() => owner.value || me.value?.role === 'editor')
const state = useQuery({ key: ['workspace'], query: () => value(api.GET('/api/v1/workspace')), enabled: owner })
</script>

<template>
  <div class="workspace" data-work>
    <h1>The workspace</h1>
    <p v-if="me && !edits" class="quiet">Whoever owns it manages it. What is yours stands under “Your account”.</p>
    <div v-if="me && edits" class="columns">
      <div>
        <PeopleTable v-if="owner" :me="me.name" />
        <ConnectedList v-if="owner" :mail="state.data.value?.mail" />
      </div>
      <div>
        <ProductList v-if="owner" :removable="state.data.value?.removable.products ?? []" @changed="state.refetch()" />
        <TeamList :removable="state.data.value?.removable.teams ?? []" @changed="owner && state.refetch()" />
        <SizeCard v-if="owner && state.data.value" :state="state.data.value" @made="state.refetch()" />
      </div>
    </div>
  </div>
</template>

<style scoped>
.workspace {
  overflow: auto;
  padding: 20px 24px 56px;
}
h1 {
  font-size: 22px;
  margin: 0 0 8px;
}
.columns {
  display: grid;
  gap: 0 44px;
  grid-template-columns: minmax(0, 3fr) minmax(280px, 2fr);
}
.workspace :deep(section) {
  margin-bottom: 30px;
}
.workspace :deep(h2) {
  font-size: 16px;
  margin: 0 0 6px;
}
.workspace :deep(ul) {
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
}
.workspace :deep(ul > li) {
  align-items: start;
  border-bottom: 1px solid var(--rule);
  display: flex;
  gap: 12px;
  overflow-wrap: anywhere;
  padding: 8px 0;
}
.workspace :deep(table) {
  width: 100%;
}
.workspace :deep(th) {
  font-weight: 400;
  overflow-wrap: anywhere;
  padding: 6px 10px 6px 0;
  text-align: left;
  vertical-align: top;
}
.workspace :deep(thead th) {
  color: var(--quiet);
  font-size: 13px;
}
.workspace :deep(td) {
  padding: 6px 10px 6px 0;
  vertical-align: top;
}
.workspace :deep(tbody tr) {
  border-bottom: 1px solid var(--rule);
}
.workspace :deep(.btn) {
  flex: none;
  white-space: nowrap;
}
@media (max-width: 900px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
