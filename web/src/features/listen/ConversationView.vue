<script setup lang="ts">
import { computed, nextTick, onUnmounted, reactive, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, value } from '@/api/client'
import { useMe, useStudy } from '@/api/queries'
import { useSave } from '@/api/save'
import { placeOf, useSelection } from '@/shared/selection'
import StageFrame from '@/shared/StageFrame.vue'
import { LISTEN } from '@/shared/tabs'
import { count, today } from '@/shared/words'
import { clock, drafted, keepDraft, SEEN, speakersOf, switchOf, tagged, type Draft, type Line } from './conversation'
import ConversationLines from './ConversationLines.vue'
import GuideList from './GuideList.vue'

/** Notes while somebody answers: a line each, with who speaks, when, and to which question of the guide. */
const { product } = useSelection()
const route = useRoute()
const router = useRouter()
const { save } = useSave()
const id = Number(route.params.id)
const { data: view, error } = useStudy(id)
const { data: me } = useMe()

const empty = (): Draft => ({
  person: '',
  account: '',
  day: today(),
  began: 0,
  speakers: [],
  speaking: '',
  question: 0,
  lines: [],
})
const draft = reactive<Draft>(drafted(id) ?? empty())
const text = ref('')
const changing = ref<number>()
const field = ref<HTMLInputElement>()
const now = ref(Date.now())
const questions = computed(() => view.value?.questions ?? [])
const asking = computed(() => questions.value[draft.question]?.words ?? '')
const answers = computed(() =>
  questions.value.map((one) => draft.lines.filter((line) => line.question === one.words).length),
)
const speaking = computed(() => draft.speakers.find((one) => one.key === draft.speaking)?.name ?? '')
const tags = computed(() => [...new Set(draft.lines.flatMap((line) => line.tags))].sort())

/** Whoever takes the notes, and whoever is asked, until others are named. */
watch(
  [() => me.value?.name, () => draft.person],
  ([mine, asked]) => {
    const others = draft.speakers.slice(2).map((one) => one.name)
    const names = [mine?.split(' ')[0] ?? '', asked || 'Asked', ...others]
    const speaks = draft.speakers.findIndex((one) => one.key === draft.speaking)
    draft.speakers = speakersOf(names)
    draft.speaking = draft.speaking === SEEN ? SEEN : (draft.speakers[speaks < 0 ? 1 : speaks]?.key ?? '')
  },
  { immediate: true },
)
watch(draft, () => keepDraft(id, draft.lines.length || draft.person ? draft : undefined), { deep: true })

const timer = setInterval(() => (now.value = Date.now()), 500)
onUnmounted(() => clearInterval(timer))
watch(field, (there) => there?.focus())

/** A key and a colon in front change who speaks, and go. The clock begins with the first letter. */
function typed() {
  draft.began ||= Date.now()
  const switched = switchOf(text.value, draft.speakers)
  if (!switched) return
  draft.speaking = switched.speaking
  text.value = switched.rest
}

function keepLine() {
  const { words, tags: put } = tagged(text.value)
  if (!words) return
  const speaker = draft.speaking === SEEN ? '' : speaking.value
  const before = changing.value === undefined ? undefined : draft.lines[changing.value]
  const line: Line = {
    speaker,
    words,
    tags: put,
    atMs: before?.atMs ?? Date.now() - draft.began,
    question: before?.question ?? asking.value,
  }
  if (changing.value === undefined) draft.lines.push(line)
  else draft.lines[changing.value] = line
  changing.value = undefined
  text.value = ''
}

async function change(at: number) {
  const line = draft.lines[at]
  if (!line) return
  changing.value = at
  draft.speaking = draft.speakers.find((one) => one.name === line.speaker)?.key ?? SEEN
  text.value = [line.words, ...line.tags.map((tag) => `#${tag}`)].join(' ')
  await nextTick()
  field.value?.focus()
}

function step(by: number) {
  draft.question = Math.max(0, Math.min(questions.value.length - 1, draft.question + by))
}

function addSpeaker(named: HTMLInputElement) {
  draft.speakers = speakersOf([...draft.speakers.map((one) => one.name), named.value])
  named.value = ''
}

function put(tag: string) {
  text.value = `${text.value.trimEnd()} #${tag} `
  field.value?.focus()
}

async function keep() {
  keepLine()
  const lines = draft.lines.map((line) => ({
    speaker: line.speaker || null,
    words: line.words,
    at_ms: line.atMs,
    question: line.question || null,
    tags: line.tags,
  }))
  const body = {
    study: id,
    person: draft.person || null,
    account: draft.account || null,
    said_on: draft.day || null,
    lines,
  }
  const saved = await save(value(api.POST('/api/v1/listen/conversations', { body })))
  if (!saved?.thing) return
  Object.assign(draft, empty())
  await nextTick()
  keepDraft(id, undefined)
  await router.push(placeOf(saved.thing, product.value))
}
</script>

<template>
  <StageFrame :tabs="LISTEN" :problem="error?.message">
    <div v-if="view" class="talk">
      <aside aria-label="The guide">
        <h1>{{ view.study.title }}</h1>
        <p class="small quiet">{{ view.study.question }}</p>
        <GuideList
          :questions="questions"
          :chosen="draft.question"
          :answers="answers"
          @choose="draft.question = $event"
        />
        <p v-if="!questions.length" class="quiet small">This study has no guide yet. Write one where it is opened.</p>
      </aside>
      <section class="notes" aria-label="Notes">
        <div class="row-flex who">
          <label>Who <input v-model="draft.person" class="form-control" placeholder="nameless" /></label>
          <label>For whom <input v-model="draft.account" class="form-control" placeholder="an account" /></label>
          <label>When <input v-model="draft.day" type="date" class="form-control" /></label>
          <span class="figure clock" role="timer">{{ clock(draft.began ? now - draft.began : 0) }}</span>
        </div>
        <ConversationLines
          :lines="draft.lines"
          :changing="changing"
          @change="change"
          @remove="draft.lines.splice($event, 1)"
        />
        <form
          class="entry"
          @submit.prevent="keepLine"
          @keydown.ctrl.enter.prevent="keep"
          @keydown.alt.down.prevent="step(1)"
          @keydown.alt.up.prevent="step(-1)"
        >
          <p v-if="asking" class="small" data-asking>{{ asking }}</p>
          <div class="row-flex" role="radiogroup" aria-label="Who speaks">
            <button
              v-for="one in draft.speakers"
              :key="one.key"
              type="button"
              role="radio"
              class="btn btn-outline"
              :class="{ on: one.key === draft.speaking }"
              :aria-checked="one.key === draft.speaking"
              @click="draft.speaking = one.key"
            >
              <kbd>{{ one.key }}:</kbd> {{ one.name }}
            </button>
            <button
              type="button"
              role="radio"
              class="btn btn-outline"
              :class="{ on: draft.speaking === SEEN }"
              :aria-checked="draft.speaking === SEEN"
              @click="draft.speaking = SEEN"
            >
              <kbd>{{ SEEN }}:</kbd> seen, not said
            </button>
            <input
              class="form-control short"
              placeholder="somebody else"
              aria-label="Somebody else who speaks"
              @change="addSpeaker($event.target as HTMLInputElement)"
            />
          </div>
          <label
            ><span class="visually-hidden">What {{ speaking || 'was seen' }}</span>
            <input
              ref="field"
              v-model="text"
              class="form-control line"
              autocomplete="off"
              :placeholder="speaking ? `${speaking}: …` : 'what you see'"
              @input="typed"
              @keydown.enter.exact.prevent="keepLine"
            />
          </label>
          <div v-if="tags.length" class="row-flex small" aria-label="Tags">
            <button v-for="tag in tags" :key="tag" type="button" class="btn btn-plain" @click="put(tag)">
              #{{ tag }}
            </button>
          </div>
          <div class="row-flex small quiet">
            <span><kbd>Enter</kbd> keeps the line</span>
            <span>a key and a colon change who speaks</span>
            <span><kbd>#word</kbd> is a tag</span>
            <span><kbd>Alt</kbd> + <kbd>↑</kbd> <kbd>↓</kbd> change the question</span>
          </div>
          <div class="row-flex">
            <button type="button" class="btn btn-primary" :disabled="!draft.lines.length && !text.trim()" @click="keep">
              Keep the conversation
            </button>
            <span class="small quiet"
              >{{ count(draft.lines.length, 'line') }}, so far in this browser only; <kbd>Ctrl</kbd> +
              <kbd>Enter</kbd> keeps them in the study</span
            >
          </div>
        </form>
      </section>
    </div>
  </StageFrame>
</template>

<style scoped>
.talk {
  display: grid;
  grid-template-columns: minmax(220px, 320px) minmax(0, 1fr);
  height: 100%;
  min-height: 0;
}
aside {
  border-right: 1px solid var(--rule);
  overflow: auto;
  padding: 12px 12px 20px 16px;
}
h1 {
  font-size: 18px;
  margin: 0 0 4px;
}
.notes {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr) auto;
  min-height: 0;
}
.who {
  padding: 10px 16px;
}
.clock {
  margin-left: auto;
}
.entry {
  background: var(--panel);
  border-top: 1.5px solid var(--quiet);
  display: grid;
  gap: 8px;
  padding: 10px 16px 12px;
}
.entry p {
  margin: 0;
}
.btn.on {
  border-color: var(--ink);
  box-shadow: inset 0 0 0 1px var(--ink);
  font-weight: 650;
}
.line {
  font-size: 17px;
}
.short {
  width: 150px;
}
@media (max-width: 760px) {
  .talk {
    display: block;
    overflow: auto;
  }
  aside {
    border-bottom: 1px solid var(--rule);
    border-right: 0;
    max-height: 36vh;
  }
}
</style>
