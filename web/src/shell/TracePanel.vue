<script setup lang="ts">
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import { useMediaQuery } from '@vueuse/core'
import { useTrace } from '@/api/queries'
import { useTalk } from '@/api/talk'
import { panel } from '@/features/talk/passage'
import KiteMark from '@/shared/KiteMark.vue'
import { useSelection } from '@/shared/selection'
import { count, money, percent, withDays } from '@/shared/words'
import HistoryList from './HistoryList.vue'
import TraceGroups from './TraceGroups.vue'

/**
 * Beside the work, of whatever is selected: the trace (upstream why it exists, downstream what became of it), what is said
 * of it, and its history.
 */
const TalkPanel = defineAsyncComponent(() => import('@/features/talk/TalkPanel.vue'))
const PARTS = { trace: 'Trace', talk: 'Talk', history: 'History' } as const
const { selected } = useSelection()
const { data, error } = useTrace(selected)
const { data: talk } = useTalk(selected)
const said = computed(() => talk.value?.comments.filter((one) => !one.resolved_at).length ?? 0)
const narrow = useMediaQuery('(width < 1000px)')
const folded = ref(narrow.value)
// Beside a wide page it has room; over a narrow one it would hide the work.
watch(narrow, (now) => (folded.value = now))
// Whoever comes for what is said wants to see it.
watch(panel, (part) => part === 'talk' && (folded.value = false))

const voices = computed(() => data.value?.voices)
const behind = computed(() => {
  if (!voices.value?.items) return ''
  const { people, accounts, revenue, items, nameless } = voices.value
  const parts = [count(people, 'person', 'people'), count(accounts, 'account')]
  if (revenue) parts.push(`€ ${money(revenue)} a year`)
  if (nameless) parts.push(`${nameless} of ${items} items nameless`)
  return parts.join(' · ')
})
function step(event: KeyboardEvent) {
  const parts = Object.keys(PARTS) as (keyof typeof PARTS)[]
  const by = event.key === 'ArrowRight' ? 1 : -1
  panel.value = parts[(parts.indexOf(panel.value) + by + parts.length) % parts.length] ?? 'trace'
  const tabs = (event.currentTarget as HTMLElement).parentElement
  tabs?.querySelector<HTMLElement>(`[data-part=${panel.value}]`)?.focus()
}

const counts = computed(() => ({
  up: data.value?.why.reduce((sum, group) => sum + group.count, 0) ?? 0,
  down: data.value?.became.reduce((sum, group) => sum + group.count, 0) ?? 0,
}))
</script>

<template>
  <aside class="panel" :class="{ folded }" aria-label="About what is selected" data-trace>
    <button type="button" class="btn btn-plain fold" :aria-expanded="!folded" @click="folded = !folded">
      {{ folded ? '‹' : '›'
      }}<span class="visually-hidden"> {{ folded ? 'Unfold the trace' : 'Fold the trace away' }}</span>
    </button>
    <div v-if="folded" class="edge small">
      <span class="up" :title="`${counts.up} upstream`">{{ counts.up }}</span>
      <span class="down" :title="`${counts.down} downstream`">{{ counts.down }}</span>
      <span v-if="said" :title="`${said} said`" class="quiet">{{ said }}</span>
    </div>
    <div v-else class="inside">
      <template v-if="data && selected">
        <h2 data-trace-of>{{ data.of.reference }} {{ data.of.title }}</h2>
        <div class="small quiet detail">
          <KiteMark v-if="data.of.state" :state="data.of.state" /><template v-if="data.of.state && data.of.detail">
            · </template
          >{{ withDays(data.of.detail) }}
        </div>

        <div class="parts" role="tablist" aria-label="What is shown of it">
          <button
            v-for="(name, part) in PARTS"
            :key="part"
            type="button"
            role="tab"
            :aria-selected="panel === part"
            :tabindex="panel === part ? 0 : -1"
            :data-part="part"
            @click="panel = part"
            @keydown.left.right.prevent="step"
          >
            {{ name }}<span v-if="part === 'talk' && said" class="figure">{{ ' ' + said }}</span>
          </button>
        </div>

        <TalkPanel v-if="panel === 'talk'" :key="`${selected.kind}:${selected.id}`" :thing="selected" />
        <HistoryList v-else-if="panel === 'history'" :thing="selected" />
        <template v-else>
          <h3 class="up">Why</h3>
          <p v-if="behind" class="small quiet behind" data-behind>{{ behind }}</p>
          <TraceGroups v-if="data.why.length" :groups="data.why" direction="up" />
          <p v-else class="small quiet">
            {{
              data.of.thing.kind === 'feedback_item'
                ? 'This is where the line begins.'
                : 'Nothing stands behind it yet.'
            }}
          </p>

          <h3 class="down">What became of it</h3>
          <p v-if="data.progress.stories" class="small quiet behind">
            {{ data.progress.stories_done }} of {{ count(data.progress.stories, 'story', 'stories') }} done ·
            {{ percent(data.progress.share) }}
          </p>
          <TraceGroups v-if="data.became.length" :groups="data.became" direction="down" />
          <p v-else class="small quiet">Nothing yet.</p>

          <template v-if="data.depends_on.length">
            <h3>Depends on</h3>
            <TraceGroups
              :groups="[{ sort: 'story', count: data.depends_on.length, lines: data.depends_on }]"
              direction="up"
            />
          </template>
          <template v-if="data.needed_by.length">
            <h3>Needed by</h3>
            <TraceGroups
              :groups="[{ sort: 'story', count: data.needed_by.length, lines: data.needed_by }]"
              direction="down"
            />
          </template>
        </template>
      </template>
      <p v-else-if="error && selected" class="quiet">What was selected is not there any more.</p>
      <p v-else class="quiet">Select something to see why it exists and what became of it.</p>
    </div>
  </aside>
</template>

<style scoped>
.panel {
  background: var(--panel);
  border-left: 1px solid var(--rule);
  min-height: 0;
  overflow-x: hidden;
  overflow-y: auto;
  position: relative;
  width: 320px;
}
.panel.folded {
  width: 40px;
}
.fold {
  position: absolute;
  right: 6px;
  text-decoration: none;
  top: 8px;
}
.edge {
  align-items: center;
  display: flex;
  flex-direction: column;
  font-weight: 700;
  gap: 12px;
  padding-top: 52px;
}
.inside {
  padding: 14px 16px;
}
h2 {
  font-size: 17px;
  line-height: 1.25;
  margin: 0 24px 4px 0;
  overflow-wrap: anywhere;
}
.detail {
  overflow-wrap: anywhere;
}
h3 {
  font-family: inherit;
  font-size: 13px;
  font-weight: 700;
  margin: 14px 0 6px;
}
.behind {
  margin: 0 0 6px;
}
.parts {
  border-bottom: 1px solid var(--rule);
  display: flex;
  gap: 14px;
  margin: 8px 0 10px;
}
.parts button {
  background: none;
  border: 0;
  border-bottom: 2px solid transparent;
  color: var(--quiet);
  padding: 4px 0 6px;
}
.parts button[aria-selected='true'] {
  border-color: var(--ink);
  color: var(--ink);
  font-weight: 650;
}
.parts .figure {
  font-size: inherit;
}
.up {
  color: var(--up);
}
.down {
  color: var(--down);
}
@media (max-width: 1000px) {
  .panel:not(.folded) {
    bottom: 0;
    position: absolute;
    right: 0;
    top: 0;
    z-index: 5;
  }
}
@media (max-width: 400px) {
  .panel:not(.folded) {
    width: 100%;
  }
}
</style>
