<script setup lang="ts">
import { thingIn } from '@/shared/tabs'
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import KiteMark from '@/shared/KiteMark.vue'
import { useSelection } from '@/shared/selection'
import { count, day, figure, partDone, percent } from '@/shared/words'

/** Quarters from left to right; each release is a bar from its first to its last day, filled as far as it is done. */
const props = defineProps<{ roadmap: Schemas['Roadmap'] }>()
const { select, isSelected } = useSelection()
const wide = computed(() => props.roadmap.quarters.length)
const left = (quarters: number) => `${(Math.min(quarters, wide.value) / wide.value) * 100}%`

const lanes = computed(() =>
  props.roadmap.bars.map((bar) => {
    const to = Math.min(bar.to ?? wide.value, wide.value)
    const from = Math.min(bar.from ?? to, to)
    return {
      ...bar,
      left: left(from),
      width: `${(Math.max(0.08, to - from) / wide.value) * 100}%`,
      drawn: bar.to != null,
    }
  }),
)
</script>

<template>
  <div class="roadmap">
    <div class="quarters" aria-hidden="true">
      <div v-for="quarter in roadmap.quarters" :key="`${quarter.year}-${quarter.number}`" class="quarter">
        Q{{ quarter.number }} {{ quarter.year }}
      </div>
      <div class="today" :style="{ left: left(roadmap.today) }"><span>today</span></div>
    </div>
    <article
      v-for="lane in lanes"
      :key="lane.release.id"
      class="lane"
      :class="{ on: isSelected('release', lane.release.id) }"
      :data-lane="lane.release.title"
    >
      <header>
        <button type="button" class="btn btn-plain title" @click="select('release', lane.release.id)">
          R{{ lane.release.id }} {{ lane.release.title }}
        </button>
        <KiteMark :state="lane.release.state" />
        <span class="small quiet">{{
          lane.release.ends_on ? `out on ${day(lane.release.ends_on)}` : 'no day yet'
        }}</span>
        <span class="small quiet number" data-progress
          >{{ figure(lane.progress.points_done) }} of {{ figure(lane.progress.points) }} points ·
          {{ partDone(lane.progress) }}</span
        >
        <span v-if="lane.trouble" class="hatch small flag"
          ><b>{{ lane.trouble }}</b></span
        >
      </header>
      <div v-if="lane.drawn" class="track">
        <div class="bar" :style="{ left: lane.left, width: lane.width }">
          <div class="done" :style="{ width: percent(lane.progress.share).replace(' ', '') }"></div>
        </div>
      </div>
      <ul :style="{ marginLeft: lane.drawn ? `min(${lane.left}, 60%)` : '0' }">
        <li v-for="entry in lane.entries" :key="entry.epic_id ?? 0">
          <RouterLink v-if="entry.epic_id" class="thing" :to="thingIn('work_item', entry.epic_id)"
            >E{{ entry.epic_id }} {{ entry.title }}</RouterLink
          >
          <span v-else>{{ entry.title }}</span>
          <span class="small quiet">
            {{ entry.progress.stories_done }} of {{ count(entry.progress.stories, 'story', 'stories') }} ·
            {{ partDone(entry.progress) }}</span
          >
        </li>
      </ul>
    </article>
  </div>
</template>

<style scoped>
.roadmap {
  min-width: 640px;
  padding: 12px 16px 40px;
  position: relative;
}
.quarters {
  display: flex;
  inset: 12px 16px 0;
  position: absolute;
}
.quarter {
  border-left: 1px solid var(--rule);
  color: var(--quiet);
  flex: 1;
  font-size: 13px;
  font-weight: 600;
  padding-left: 8px;
}
.today {
  border-left: 1.5px dashed var(--quiet);
  bottom: 0;
  position: absolute;
  top: 0;
}
.today span {
  background: var(--paper);
  color: var(--quiet);
  font-size: 12.5px;
  left: 0;
  padding: 0 4px;
  position: absolute;
  top: 18px;
}
.lane {
  margin-top: 26px;
  padding-top: 14px;
  position: relative;
}
header {
  align-items: baseline;
  background: color-mix(in srgb, var(--paper) 82%, transparent);
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
}
.title {
  font:
    600 15.5px 'Bricolage Grotesque Variable',
    sans-serif;
  padding: 0;
  text-decoration: none;
}
.on .title {
  text-decoration: underline;
  text-decoration-thickness: 2px;
}
.track {
  height: 18px;
  margin: 4px 0;
  position: relative;
}
.bar {
  background: var(--panel);
  border: 1.3px solid var(--ink);
  height: 18px;
  position: absolute;
}
.done {
  background: var(--quiet);
  height: 100%;
}
li {
  display: flex;
  align-items: baseline;
  gap: 8px;
}
ul {
  margin-bottom: 0;
  background: color-mix(in srgb, var(--paper) 82%, transparent);
  list-style: none;
  padding: 2px 0 0 8px;
  width: fit-content;
}
.flag {
  border: 1px solid var(--ink);
  padding: 1px 8px;
}
</style>
