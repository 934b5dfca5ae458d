<script setup lang="ts">
import { reactive } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { takeout } from '@/api/files'
import { useBoard, useReleases } from '@/api/queries'
import { useSave } from '@/api/save'
import EditField from '@/shared/EditField.vue'
import EmptyPlace from '@/shared/EmptyPlace.vue'
import KiteMark from '@/shared/KiteMark.vue'
import LoadBar from '@/shared/LoadBar.vue'
import { useSelection } from '@/shared/selection'
import StageFrame from '@/shared/StageFrame.vue'
import { PLAN } from '@/shared/tabs'
import { figure, percent } from '@/shared/words'
import ReleaseStories from './ReleaseStories.vue'

type Release = Schemas['ReleaseView']
const STATES = ['planned', 'under_way', 'released'] as const
const { product, select, isSelected } = useSelection()
const { data: releases, error, isPending } = useReleases(product)
const { data: board } = useBoard(product)
const { save, edit } = useSave()
const form = reactive({ title: '', starts_on: '', ends_on: '' })
const set = (release: Release, values: Record<string, unknown>) =>
  edit({ kind: 'release', id: release.id }, release, values)

async function add() {
  const saved = await save(
    value(api.POST('/api/v1/plan/releases', { body: { product_id: product.value, set: { ...form } } })),
  )
  if (saved) Object.assign(form, { title: '', starts_on: '', ends_on: '' })
}

function step(release: Release, event: Event) {
  const state = (event.target as HTMLSelectElement).value as Release['state']
  return save(
    value(
      api.POST('/api/v1/plan/releases/{id}/state', {
        params: { path: { id: release.id } },
        body: { rev: release.rev, state },
      }),
    ),
  )
}
const remove = (release: Release) =>
  save(
    value(
      api.DELETE('/api/v1/things/{kind}/{id}', {
        params: { path: { kind: 'release', id: release.id }, query: { rev: release.rev } },
      }),
    ),
  )
</script>

<template>
  <StageFrame :tabs="PLAN" :busy="isPending" :problem="error?.message">
    <template #tools>
      <form class="row-flex" @submit.prevent="add">
        <label
          ><span class="visually-hidden">A new release</span
          ><input v-model="form.title" class="form-control" placeholder="a new release" required
        /></label>
        <label class="row-flex small"
          >from <input v-model="form.starts_on" class="form-control day" type="date"
        /></label>
        <label class="row-flex small">to <input v-model="form.ends_on" class="form-control day" type="date" /></label>
        <button type="submit" class="btn btn-primary">Add</button>
      </form>
    </template>
    <EmptyPlace v-if="releases?.length === 0" title="No release yet">
      A release is what goes out together; it is also a slice of the story map. Name the first one above and give it its
      days.
    </EmptyPlace>
    <table v-else-if="releases" class="list">
      <thead>
        <tr>
          <th scope="col">Release</th>
          <th scope="col">From</th>
          <th scope="col">Out on</th>
          <th scope="col" class="number">Fits</th>
          <th scope="col">Points, done and planned</th>
          <th scope="col">State</th>
        </tr>
      </thead>
      <tbody
        v-for="release in releases"
        :key="release.id"
        :data-release="release.title"
        @click="select('release', release.id)"
        @focusin="select('release', release.id)"
      >
        <tr :class="{ selected: isSelected('release', release.id) }">
          <td class="what">
            <EditField
              :value="release.title"
              :label="`Title of R${release.id}`"
              @save="set(release, { title: $event })"
            />
            <div class="small quiet">
              R{{ release.id }} · {{ release.progress.stories_done }} of {{ release.progress.stories }} stories done
            </div>
          </td>
          <td class="day">
            <EditField
              :value="release.starts_on"
              type="date"
              :label="`First day of R${release.id}`"
              @save="set(release, { starts_on: $event })"
            />
          </td>
          <td class="day">
            <EditField
              :value="release.ends_on"
              type="date"
              :label="`Last day of R${release.id}`"
              @save="set(release, { ends_on: $event })"
            />
          </td>
          <td class="fits">
            <EditField
              :value="release.capacity"
              type="number"
              :label="`Points that fit into R${release.id}`"
              right
              placeholder="points"
              @save="set(release, { capacity: $event })"
            />
          </td>
          <td>
            <div class="row-flex">
              <LoadBar
                :points="release.progress.points"
                :done="release.progress.points_done"
                :capacity="release.capacity"
                :width="150"
              />
              <span class="number">{{ percent(release.progress.share) }}</span>
            </div>
            <div class="small quiet">
              {{ figure(release.progress.points_done) }} of {{ figure(release.progress.points) }} points<template
                v-if="release.progress.without_points"
              >
                · {{ release.progress.without_points }} without an estimate</template
              >
            </div>
            <div v-if="release.trouble" class="hatch small flag">
              <b>{{ release.trouble }}</b>
            </div>
            <div v-for="flag in release.out_of_order" :key="flag.story_id" class="hatch small flag">
              <b>S{{ flag.story_id }} {{ flag.words }}</b>
            </div>
          </td>
          <td class="state">
            <select
              class="form-select"
              :aria-label="`State of R${release.id}`"
              :value="release.state"
              @change="step(release, $event)"
            >
              <option v-for="state in STATES" :key="state" :value="state">{{ state.replace('_', ' ') }}</option>
            </select>
            <KiteMark :state="release.state" plain />
          </td>
        </tr>
        <tr v-if="isSelected('release', release.id)">
          <td colspan="6" class="detail">
            <ReleaseStories
              :release="release"
              :stories="(board?.stories ?? []).filter((story) => story.release_id === release.id)"
            />
            <div class="row-flex">
              <a class="btn btn-outline" :href="takeout.release(release.id)">Take out as Markdown</a>
              <button type="button" class="btn btn-plain" @click.stop="remove(release)">
                Remove R{{ release.id }}
              </button>
            </div>
          </td>
        </tr>
      </tbody>
    </table>
  </StageFrame>
</template>

<style scoped>
.what {
  font-weight: 550;
  min-width: 170px;
}
.what .small {
  font-weight: 400;
}
.day {
  width: 138px;
}
.fits {
  width: 76px;
}
.state {
  width: 132px;
}
.flag {
  border: 1px solid var(--ink);
  margin: 3px 6px 0 0;
  padding: 1px 8px;
  width: fit-content;
}
.detail {
  background: var(--panel);
}
</style>
