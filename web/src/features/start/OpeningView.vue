<script setup lang="ts">
import { computed } from 'vue'
import type { RouteLocationRaw } from 'vue-router'
import type { Schemas } from '@/api/client'
import { useOpening } from '@/api/talk'
import { useMe } from '@/api/queries'
import { placeOf, useSelection } from '@/shared/selection'
import { listOf } from '@/shared/tabs'
import { count, moment, withDays } from '@/shared/words'
import NoticeLine from '../notices/NoticeLine.vue'

/** Where somebody begins: what waits, what others did since the last visit, and where the person was. */
const { product } = useSelection()
const { data, isPending, error } = useOpening(product)
const { data: me } = useMe()
type Sort = Schemas['WaitingSort']

const WORDS: Record<Sort, (n: number) => string> = {
  told: (n) => `${n} for you`,
  yours: (n) => `${count(n, 'objective')} that you answer for`,
  decisions: (n) => `${count(n, 'decision')} to look at again`,
  undecided: (n) => `${count(n, 'idea')} to decide about`,
  unread: (n) => `${count(n, 'feedback item')} unread`,
  not_ready: (n) => (n === 1 ? '1 story fails the ready check' : `${n} stories fail the ready check`),
  trouble: (n) => `${count(n, 'release')} in trouble`,
  to_measure: (n) => `${count(n, 'idea')} out and not measured`,
  rules: (n) => (n === 1 ? '1 rule was stopped or failed' : `${n} rules were stopped or failed`),
  outbox: (n) => `${count(n, 'message')} did not go out`,
}
const PLACES: Record<Sort, RouteLocationRaw> = {
  told: { name: 'notices' },
  yours: listOf('objective'),
  decisions: { name: 'decisions' },
  undecided: { name: 'ranking' },
  unread: listOf('feedback_item', { view: 'unread' }),
  not_ready: { name: 'ready' },
  trouble: listOf('release'),
  to_measure: { name: 'results' },
  rules: { name: 'rules' },
  outbox: { name: 'notices' },
}
const first = computed(() => me.value?.name.split(' ')[0] ?? '')
</script>

<template>
  <div class="opening" :aria-busy="isPending" data-work>
    <p v-if="error" role="alert">{{ error.message }}</p>
    <template v-else-if="data">
      <section class="waits" aria-labelledby="waits">
        <h1 id="waits">
          {{ data.waiting.length ? `What waits for you, ${first}` : `Nothing waits for you, ${first}` }}
        </h1>
        <ul class="groups">
          <li v-for="one in data.waiting" :key="one.sort" :data-waits="one.sort">
            <h2>
              <RouterLink :to="PLACES[one.sort]">{{ WORDS[one.sort](one.count) }}</RouterLink>
            </h2>
            <NoticeLine v-for="notice in one.notices" :key="notice.id" :notice="notice" />
            <p v-for="line in one.lines" :key="`${line.thing.kind}${line.thing.id}`" class="line">
              <RouterLink class="thing" :to="placeOf(line.thing, product)"
                ><span class="quiet">{{ line.reference }}</span> {{ line.title }}</RouterLink
              >
              <span v-if="line.words" class="small quiet"> · {{ withDays(line.words) }}</span>
            </p>
            <p
              v-if="one.count > one.lines.length + one.notices.length && one.lines.length + one.notices.length"
              class="small quiet line"
            >
              and {{ one.count - one.lines.length - one.notices.length }} more
            </p>
          </li>
        </ul>
      </section>
      <aside>
        <section v-if="data.since" aria-labelledby="since" data-since>
          <h2 id="since">Since you were here</h2>
          <p class="small quiet">{{ moment(data.since) }}</p>
          <p v-for="one in data.changes" :key="one.who">
            <b>{{ one.who }}</b> {{ one.words }}
          </p>
          <p v-if="data.cut" class="small quiet">
            Much more changed before that; this tells the newest 20,000 changes.
          </p>
          <p v-else-if="!data.changes.length" class="quiet">Nobody else changed anything.</p>
        </section>
        <section v-if="data.places.length" aria-labelledby="places" data-places>
          <h2 id="places">Where you were</h2>
          <p v-for="place in data.places" :key="place.path" class="line">
            <RouterLink :to="place.path">{{ place.title }}</RouterLink>
            <span class="small quiet"> · {{ moment(place.at ?? 0) }}</span>
          </p>
        </section>
        <section v-if="!data.since && !data.places.length">
          <h2>New here?</h2>
          <p>
            The line along the top is the order of the work: listen, decide, specify, map, plan, hand over, learn.
            <kbd>/</kbd> finds anything, <kbd>?</kbd> shows the keys.
          </p>
          <p><RouterLink class="btn btn-primary" :to="{ name: 'bring-in' }">Bring in feedback</RouterLink></p>
        </section>
      </aside>
    </template>
  </div>
</template>

<style scoped>
.opening {
  align-content: start;
  display: grid;
  gap: 8px 40px;
  grid-template-columns: minmax(0, 3fr) minmax(220px, 2fr);
  overflow: auto;
  padding: 20px 24px 56px;
}
h1 {
  font-size: 24px;
  margin: 0 0 14px;
}
h2 {
  font-size: 16px;
  margin: 0 0 4px;
}
.groups {
  display: grid;
  gap: 16px;
  list-style: none;
  margin: 0;
  padding: 0;
}
.line {
  margin: 0 0 3px;
  overflow-wrap: anywhere;
}
aside {
  align-content: start;
  display: grid;
  gap: 22px;
}
aside p {
  margin: 0 0 6px;
}
@media (max-width: 800px) {
  .opening {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
