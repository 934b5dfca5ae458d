<script setup lang="ts">
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { useQueryCache } from '@pinia/colada'
import { api, value, type Schemas } from '@/api/client'
import { live } from '@/api/live'
import { useUndoState } from '@/api/queries'
import { useSave } from '@/api/save'
import { theme } from './theme'

/** Who I am, undo and redo, the theme, everything as a file, signing out. */
const props = defineProps<{ me: Schemas['Actor'] }>()
const router = useRouter()
const cache = useQueryCache()
const { save } = useSave()
const { data: undoState } = useUndoState()
const initials = computed(() =>
  props.me.name
    .split(/\s+/)
    .map((part) => `${part[0] ?? ''}.`)
    .slice(0, 2)
    .join(' '),
)

async function signOut() {
  await value(api.DELETE('/api/v1/session'))
  cache.getEntries().forEach((entry) => cache.remove(entry))
  await router.push({ name: 'sign-in' })
}
</script>

<template>
  <BDropdown
    variant="plain"
    :text="initials"
    toggle-class="initials"
    end
    no-caret
    :aria-label="`${initials} ${me.name}, ${me.role}`"
  >
    <li class="who">
      <b>{{ me.name }}</b>
      <div class="small quiet">{{ me.role }} · {{ live ? 'changes arrive by themselves' : 'connecting …' }}</div>
    </li>
    <BDropdownItemButton :disabled="!undoState?.undo" @click="save(value(api.POST('/api/v1/undo')))">
      Undo<span v-if="undoState?.undo" class="quiet">: {{ undoState.undo }}</span>
    </BDropdownItemButton>
    <BDropdownItemButton :disabled="!undoState?.redo" @click="save(value(api.POST('/api/v1/redo')))">
      Do again<span v-if="undoState?.redo" class="quiet">: {{ undoState.redo }}</span>
    </BDropdownItemButton>
    <BDropdownDivider />
    <BDropdownItem :to="{ name: 'account' }">Your account</BDropdownItem>
    <BDropdownItem :to="{ name: 'notices' }">What I want to hear of</BDropdownItem>
    <BDropdownItem :to="{ name: 'rules' }">Rules</BDropdownItem>
    <BDropdownItem v-if="me.role === 'owner' || me.role === 'editor'" :to="{ name: 'workspace' }">
      The workspace
    </BDropdownItem>
    <BDropdownDivider />
    <BDropdownItemButton v-for="one in ['light', 'dark', 'system'] as const" :key="one" @click="theme = one">
      {{ theme === one ? '◆' : '◇' }} {{ one === 'system' ? 'theme of the system' : `${one} theme` }}
    </BDropdownItemButton>
    <BDropdownDivider />
    <BDropdownItemButton @click="signOut">Sign out</BDropdownItemButton>
  </BDropdown>
</template>

<style scoped>
.who {
  max-width: 320px;
  padding: 4px 16px 8px;
}
:deep(.initials) {
  font-weight: 700;
  text-decoration: none;
  white-space: nowrap;
}
:deep(.dropdown-menu) {
  max-width: 360px;
}
:deep(.dropdown-item) {
  overflow: hidden;
  text-overflow: ellipsis;
}
</style>
