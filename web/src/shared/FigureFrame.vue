<script setup lang="ts">
import { ref } from 'vue'
import { keep } from '@/api/collections'
import { asCsv, asPng, standalone } from './drawing'

/** A picture with its numbers as a table, each to be kept as a file. */
const props = defineProps<{
  title: string
  heads: readonly string[]
  lines: readonly (readonly (string | number)[])[]
}>()
const place = ref<HTMLElement>()
const name = () => props.title.toLowerCase().replaceAll(/[^a-z0-9]+/g, '-')
const drawing = () => place.value?.querySelector<SVGSVGElement>('svg[data-figure]')
function saveSvg() {
  const svg = drawing()
  if (svg) keep(new Blob([standalone(svg)], { type: 'image/svg+xml' }), `${name()}.svg`)
}
async function savePng() {
  const svg = drawing()
  if (svg) keep(await asPng(svg), `${name()}.png`)
}
const saveCsv = () =>
  keep(new Blob([asCsv([props.heads, ...props.lines])], { type: 'text/csv;charset=utf-8' }), `${name()}.csv`)
</script>

<template>
  <figure ref="place">
    <figcaption>{{ title }}</figcaption>
    <slot />
    <details class="small">
      <summary class="quiet">Numbers, and to keep</summary>
      <div class="row-flex">
        <button type="button" class="btn btn-plain" @click="saveSvg">SVG</button>
        <button type="button" class="btn btn-plain" @click="savePng">PNG</button>
        <button type="button" class="btn btn-plain" @click="saveCsv">CSV</button>
      </div>
      <div class="numbers">
        <table class="list">
          <thead>
            <tr>
              <th v-for="(head, at) in heads" :key="head" scope="col" :class="{ number: at > 0 }">{{ head }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(line, n) in lines" :key="n">
              <template v-for="(cell, at) in line" :key="at">
                <th v-if="at === 0" scope="row">{{ cell }}</th>
                <td v-else class="number">{{ cell }}</td>
              </template>
            </tr>
          </tbody>
        </table>
      </div>
    </details>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
  min-width: 0;
}
figcaption {
  font:
    600 15px/1.3 'Bricolage Grotesque Variable',
    sans-serif;
  margin-bottom: 4px;
}
summary {
  cursor: pointer;
  min-height: 24px;
}
.numbers {
  max-height: 240px;
  overflow: auto;
}
table {
  width: auto;
}
</style>
