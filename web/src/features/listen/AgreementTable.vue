<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { useAgreements, useFindings } from '@/api/queries'
import { thingIn } from '@/shared/tabs'
import { words } from '@/shared/words'

/** How far the engine and people agree, and people with each other, and what that means. */
const props = defineProps<{ product: number }>()
const { data } = useAgreements(() => props.product)
const { data: findings } = useFindings(() => props.product)
type Line = Schemas['AgreementView']
const MEANS: Record<Schemas['Strength'], string> = {
  unknown: 'too little was checked to say',
  none: 'worse than chance',
  slight: 'slight',
  fair: 'fair',
  moderate: 'moderate',
  substantial: 'substantial',
  almost_full: 'almost full',
}
const HOW: Record<Schemas['CheckWay'], string> = {
  unsure: 'the least sure ones, in sight of what it told',
  chance: 'by chance, without seeing what it told',
  second: 'without seeing what the other said',
}
const who = (line: Line) => line.people?.join(' and ') ?? 'The engine and people'
const kappa = (line: Line) => (line.kappa == null ? '—' : `${line.kappa.toFixed(2)} ± ${(line.margin ?? 0).toFixed(2)}`)
const said = (line: Line, what: string) =>
  line.about === 'kind' ? words(what) : what === 'none' ? 'none of these' : titleOf(Number(what))
const titleOf = (id: number) => findings.value?.find((one) => one.id === id)?.title ?? `N${id}`
const differing = computed(() => data.value?.filter((line) => line.people && line.differs.length) ?? [])
</script>

<template>
  <section v-if="data?.length" data-agreement>
    <h2>How far the engine and people agree</h2>
    <table class="list" aria-label="Agreement">
      <thead>
        <tr>
          <th scope="col">Who</th>
          <th scope="col">About</th>
          <th scope="col">How it was checked</th>
          <th scope="col" class="number">Alike</th>
          <th scope="col" class="number">Kappa</th>
          <th scope="col">That is</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(line, at) in data" :key="at">
          <td>{{ who(line) }}</td>
          <td>{{ line.about === 'kind' ? 'kinds' : 'findings' }}</td>
          <td>{{ HOW[line.way] }}</td>
          <td class="number">{{ line.alike }} of {{ line.judged }}</td>
          <td class="number">{{ kappa(line) }}</td>
          <td>{{ MEANS[line.means] }}</td>
        </tr>
      </tbody>
    </table>
    <p class="small quiet">
      Kappa (Cohen) is the agreement beyond what chance brings: 0 is chance, 1 is full; with its 95 % interval, in the
      words of Landis and Koch. What is checked in sight of the engine’s answer agrees more than it would otherwise, and
      the least sure ones agree less than all of them would: by chance is the fair measure.
    </p>
    <details v-for="(line, at) in differing" :key="at">
      <summary>Where {{ who(line) }} differ</summary>
      <ul class="small stacked">
        <li v-for="one in line.differs" :key="one.excerpt">
          <RouterLink class="thing" :to="thingIn('excerpt', one.excerpt)">X{{ one.excerpt }}</RouterLink>
          “{{ one.words }}” <b>{{ said(line, one.one) }}</b> or <b>{{ said(line, one.other) }}</b>
        </li>
      </ul>
    </details>
  </section>
</template>

<style scoped>
section {
  margin-top: 26px;
  max-width: 980px;
}
h2 {
  font-size: 16px;
}
summary {
  cursor: pointer;
}
</style>
