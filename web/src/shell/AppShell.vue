<script setup lang="ts">
import { computed, onMounted, onUnmounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useEventListener } from '@vueuse/core'
import { tinykeys } from 'tinykeys'
import { api, ApiProblem, value } from '@/api/client'
import { useLive } from '@/api/live'
import { useMe, useProducts } from '@/api/queries'
import { useSave } from '@/api/save'
import { useSelection } from '@/shared/selection'
import ConflictDialog from './ConflictDialog.vue'
import CourseBar from './CourseBar.vue'
import FindBox from './FindBox.vue'
import KeysDialog from './KeysDialog.vue'
import KiteLogo from './KiteLogo.vue'
import MeMenu from './MeMenu.vue'
import NoteDialog from './NoteDialog.vue'
import NoticesMenu from '@/features/notices/NoticesMenu.vue'
import TracePanel from './TracePanel.vue'
import { pressShortcut } from './shortcuts'
import { STAGES } from './stages'
import { useVisit } from './visit'

const { product } = useSelection()
const route = useRoute()
const router = useRouter()
const { data: products } = useProducts()
const { data: me, error } = useMe()
const { save } = useSave()
useLive()
useVisit()

/** Pages where nothing is selected that could have a trace. */
const ALONE = ['opening', 'notices', 'rules']
const name = computed(() => products.value?.find((one) => one.id === product.value)?.name ?? '')
const keysShown = ref(false)
const noteShown = ref(false)
const courseShown = ref(false)
const find = ref<InstanceType<typeof FindBox>>()

watch(error, (problem) => {
  // Whoever is at work stays where the work is: the line at the bottom says what to do.
  if (problem instanceof ApiProblem && problem.code === 'not-signed-in' && !me.value) {
    void router.replace({ name: 'sign-in', query: { back: route.fullPath } })
  }
})
watch(
  () => route.path,
  () => (courseShown.value = false),
)

/** Keys belong to the field that somebody types in; elsewhere to the window. */
const unlessTyping =
  (act: () => void, letter = false) =>
  (event: KeyboardEvent) => {
    const target = event.target as HTMLElement
    // A letter in a cell begins to fill it in.
    if (letter && target.closest('[role=gridcell]')) return
    if (target.closest('input:not([type=checkbox]), textarea, select, [contenteditable]')) return
    event.preventDefault()
    act()
  }

const note = () => {
  noteShown.value = true
}
const undo = () => void save(value(api.POST('/api/v1/undo')))
const redo = () => void save(value(api.POST('/api/v1/redo')))

useEventListener(window, 'keydown', pressShortcut)

let forget = () => {}
onMounted(() => {
  forget = tinykeys(window, {
    ...Object.fromEntries(
      STAGES.map((stage, n) => [
        `Alt+Digit${n + 1}`,
        (event: KeyboardEvent) => {
          event.preventDefault()
          void router.push(`/p/${product.value}/${stage.path}`)
        },
      ]),
    ),
    '/': unlessTyping(() => find.value?.focus()),
    '?': unlessTyping(() => (keysShown.value = true)),
    'Shift+?': unlessTyping(() => (keysShown.value = true)),
    n: unlessTyping(note, true),
    'Alt+n': (event: KeyboardEvent) => (event.preventDefault(), note()),
    '.': unlessTyping(() => document.querySelector<HTMLElement>('[data-trace] a, [data-trace] button')?.focus()),
    '$mod+z': unlessTyping(undo),
    '$mod+Shift+z': unlessTyping(redo),
  })
})
onUnmounted(() => forget())
</script>

<template>
  <div class="shell">
    <a class="skip" href="#work">To the work</a>
    <header class="course">
      <div class="product">
        <RouterLink class="opens" :to="{ name: 'opening', params: { product } }" aria-label="Opening page"
          ><KiteLogo
        /></RouterLink>
        <BDropdown variant="plain" :text="name" toggle-class="product-name" :aria-label="`${name}, product`">
          <BDropdownItem v-for="one in products" :key="one.id" :to="`/p/${one.id}/${route.path.split('/')[3] ?? ''}`">{{
            one.name
          }}</BDropdownItem>
        </BDropdown>
      </div>
      <button
        type="button"
        class="btn btn-outline stage-menu"
        :aria-expanded="courseShown"
        @click="courseShown = !courseShown"
      >
        Stages
      </button>
      <CourseBar class="stages" :class="{ shown: courseShown }" />
      <div class="me">
        <FindBox ref="find" @undo="undo" @redo="redo" @keys="keysShown = true" @note="note" />
        <button type="button" class="btn btn-plain keys" @click="keysShown = true"><kbd>?</kbd> keys</button>
        <NoticesMenu v-if="me" />
        <MeMenu v-if="me" :me="me" />
      </div>
    </header>
    <div class="body">
      <main id="work" tabindex="-1"><RouterView v-if="me" /></main>
      <TracePanel v-if="!ALONE.includes(String(route.name))" />
    </div>
    <KeysDialog v-model="keysShown" />
    <NoteDialog v-model="noteShown" />
    <ConflictDialog />
  </div>
</template>

<style scoped>
.shell {
  display: grid;
  grid-template-rows: 56px 1fr;
  height: calc(100% - var(--trouble, 0px));
}
.skip {
  left: 8px;
  position: absolute;
  top: -60px;
  z-index: 20;
}
.skip:focus {
  background: var(--panel);
  padding: 6px 10px;
  top: 8px;
}
.course {
  align-items: center;
  background: var(--panel);
  border-bottom: 1px solid var(--rule);
  display: grid;
  gap: 8px;
  grid-template-columns: 178px 1fr auto;
  padding: 0 16px;
  position: relative;
  z-index: 10;
}
.product {
  align-items: center;
  display: flex;
  gap: 6px;
  min-width: 0;
}
.product :deep(.product-name) {
  --bs-btn-font-size: 16px;
  font-family: 'Bricolage Grotesque Variable', sans-serif;
  font-weight: 650;
  text-decoration: none;
}
.opens {
  display: grid;
  min-height: 28px;
  min-width: 24px;
  place-items: center;
}
.me {
  align-items: center;
  display: flex;
  gap: 8px;
}
.keys {
  color: var(--quiet);
  font-weight: 400;
  text-decoration: none;
  white-space: nowrap;
}
.body {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  min-height: 0;
  position: relative;
}
main {
  display: grid;
  min-height: 0;
  min-width: 0;
}
main:focus {
  outline: none;
}
.stage-menu {
  display: none;
}
@media (max-width: 1100px) {
  .course {
    grid-template-columns: 130px 1fr auto;
  }
  .keys {
    display: none;
  }
}
@media (max-width: 900px) {
  .product :deep(.product-name) {
    --bs-btn-font-size: 14px;
  }
}
@media (max-width: 719px) {
  .course {
    grid-template-columns: auto auto 1fr;
  }
  .me {
    justify-content: flex-end;
  }
  .stage-menu {
    display: block;
  }
  .stages {
    display: none;
  }
  .stages.shown {
    background: var(--panel);
    border-bottom: 1px solid var(--rule);
    display: block;
    left: 0;
    padding: 8px 16px;
    position: absolute;
    right: 0;
    top: 56px;
  }
}
</style>
