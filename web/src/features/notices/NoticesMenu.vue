<script setup lang="ts">
import { computed, ref } from 'vue'
import { useNotices, useReadNotices } from '@/api/talk'
import PopPanel from '@/shared/PopPanel.vue'
import { useSelection } from '@/shared/selection'
import NoticeLine from './NoticeLine.vue'

/** What I was told, at hand from everywhere. */
const { product } = useSelection()
const { data } = useNotices()
const open = ref(false)
const read = useReadNotices()
const FEW = 12
const shown = computed(() => (data.value?.notices ?? []).slice(0, FEW))
const label = computed(() => (data.value?.unread ? `${data.value.unread} new` : 'News'))
</script>

<template>
  <span data-notices>
    <PopPanel v-model="open" :label="label" :quiet="!data?.unread" wide>
      <div class="row-flex head">
        <b>What you were told</b>
        <button v-if="data?.unread" type="button" class="btn btn-plain spacer" @click="read()">
          All of it is read
        </button>
      </div>
      <NoticeLine v-for="one in shown" :key="one.id" :notice="one" @gone="open = false" />
      <p v-if="!shown.length" class="quiet">
        Nothing yet. You hear when somebody speaks to you, gives you something to answer for, or changes what you
        follow.
      </p>
      <p class="small more">
        <RouterLink :to="{ name: 'notices', params: { product } }" @click="open = false"
          >All of it, and what you want to hear of</RouterLink
        >
      </p>
    </PopPanel>
    <span class="visually-hidden" role="status">{{ data?.unread ? `${data.unread} new for you` : '' }}</span>
  </span>
</template>

<style scoped>
.head {
  margin-bottom: 4px;
}
.more {
  margin: 8px 0 0;
}
</style>
