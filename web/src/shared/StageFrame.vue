<script setup lang="ts">
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useSelection } from './selection'

/** The frame of a view: the stage's views as text tabs, what belongs to this one at the right, the work below. */
const props = defineProps<{
  tabs: readonly { name: string; label: string; params?: Record<string, string | number> }[]
  busy?: boolean
  problem?: string
}>()
const { product } = useSelection()
const route = useRoute()
const router = useRouter()

const hrefOf = (tab: (typeof props.tabs)[number]) =>
  router.resolve({ name: tab.name, params: { product: product.value, ...tab.params } }).path
/** The tab of this view; a single thing lies below the address of the view that it belongs to. */
const on = computed(() => {
  const fitting = props.tabs.filter((tab) => `${route.path}/`.startsWith(`${hrefOf(tab)}/`))
  return fitting.sort((a, b) => hrefOf(b).length - hrefOf(a).length)[0]
})
</script>

<template>
  <div class="frame">
    <nav class="tabs" aria-label="Views of this stage">
      <RouterLink
        v-for="tab in tabs"
        :key="tab.label"
        v-slot="{ href, navigate, isActive }"
        :to="{ name: tab.name, params: { product, ...tab.params } }"
        custom
      >
        <a :href="href" :class="{ on: tab === on }" :aria-current="isActive ? 'page' : undefined" @click="navigate">{{
          tab.label
        }}</a>
      </RouterLink>
      <div class="tools"><slot name="tools" /></div>
    </nav>
    <div class="work" :aria-busy="busy" data-work>
      <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
      <slot />
    </div>
  </div>
</template>

<style scoped>
.frame {
  display: grid;
  grid-template-rows: auto 1fr;
  min-height: 0;
  min-width: 0;
}
.tabs {
  align-items: center;
  border-bottom: 1px solid var(--rule);
  display: flex;
  flex-wrap: wrap;
  gap: 0 13px;
  min-height: 44px;
  padding: 0 16px;
}
a {
  border-bottom: 2px solid transparent;
  color: var(--quiet);
  padding: 11px 0 9px;
  text-decoration: none;
}
a.on {
  border-color: var(--ink);
  color: var(--ink);
  font-weight: 650;
}
.tools {
  align-items: center;
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  margin-left: auto;
}
.work {
  /* The line at the bottom covers nothing that is scrolled to. */
  scroll-padding-bottom: 52px;
  min-height: 0;
  overflow: auto;
  position: relative;
}
.problem {
  border: 1px solid var(--ink);
  border-radius: 6px;
  margin: 16px;
  padding: 10px 14px;
}
</style>
