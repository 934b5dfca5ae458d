<script setup lang="ts">
import { computed } from 'vue'
import { useSave } from '@/api/save'
import KiteMark from '@/shared/KiteMark.vue'

/** What people think of a finding, and what they can say of it. */
const props = defineProps<{ id: number; row: { rev: number }; state: string }>()
const { edit } = useSave()
const says: Record<string, readonly [string, string][]> = {
  suggested: [
    ['accepted', 'Accept'],
    ['thrown_out', 'Throw out'],
  ],
  accepted: [['thrown_out', 'Throw out']],
  thrown_out: [['accepted', 'Accept after all']],
}
const WHY: Record<string, string> = {
  accepted: 'Later suggestions add to it and take nothing from it',
  thrown_out: 'It says nothing; more of the same goes there',
}
const choices = computed(() => says[props.state] ?? [])
const say = (state: string) => edit({ kind: 'finding', id: props.id }, props.row, { state })
</script>

<template>
  <div class="row-flex standing" data-standing>
    <KiteMark :state="state" />
    <button
      v-for="[to, label] in choices"
      :key="to"
      type="button"
      class="btn btn-outline"
      :title="WHY[to]"
      :aria-keyshortcuts="to === 'accepted' ? 'Alt+A' : 'Alt+T'"
      @click="say(to)"
    >
      {{ label }}
    </button>
  </div>
</template>
