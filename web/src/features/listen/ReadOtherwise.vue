<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'

/** How a part of a file is read, where what was told from the file itself is not so. */
const props = defineProps<{ view: Schemas['PartView'] }>()
const emit = defineEmits<{ read: [how: Schemas['HowRead']] }>()

const SEPARATORS = [
  [',', 'a comma'],
  [';', 'a semicolon'],
  ['\t', 'a tab'],
  ['|', 'a bar'],
] as const
/** The encodings that files mostly have; any other is typed. */
const ENCODINGS = ['UTF-8', 'UTF-16LE', 'windows-1252', 'windows-1250', 'windows-1251', 'ISO-8859-15', 'macintosh']
ENCODINGS.push('Shift_JIS', 'GBK', 'Big5', 'EUC-KR')

const how = computed(() => props.view.how)
const isSheet = computed(() => props.view.holds === 'table' && props.view.read_as.startsWith('the sheet'))
const said = (yes: boolean | null | undefined) => (yes === undefined || yes === null ? '' : yes ? 'yes' : 'no')

function say(changed: Partial<Record<keyof Schemas['HowRead'], string>>) {
  const next: Schemas['HowRead'] = { ...how.value }
  const yes = (text: string) => (text === '' ? undefined : text === 'yes')
  if (changed.headings !== undefined) next.headings = yes(changed.headings)
  if (changed.quotes !== undefined) next.quotes = yes(changed.quotes)
  if (changed.separator !== undefined) next.separator = changed.separator || undefined
  if (changed.encoding !== undefined) next.encoding = changed.encoding.trim() || undefined
  if (changed.range !== undefined) next.range = changed.range.trim() || undefined
  emit('read', next)
}
const of = (event: Event) => (event.target as HTMLInputElement).value
</script>

<template>
  <details :open="Object.keys(how).length > 0 || (view.holds === 'table' && view.doubts.length > 0)">
    <summary class="small">Read it otherwise</summary>
    <div class="ways small">
      <label
        >First row
        <select class="form-select" :value="said(how.headings)" @change="say({ headings: of($event) })">
          <option value="">as told from the rows</option>
          <option value="yes">headings</option>
          <option value="no">a row like the others</option>
        </select></label
      >
      <template v-if="!isSheet">
        <label
          >Cells are separated by
          <select class="form-select" :value="how.separator ?? ''" @change="say({ separator: of($event) })">
            <option value="">as told from the rows</option>
            <option v-for="[sign, name] in SEPARATORS" :key="sign" :value="sign">{{ name }}</option>
          </select></label
        >
        <label
          >Quotation marks
          <select class="form-select" :value="said(how.quotes)" @change="say({ quotes: of($event) })">
            <option value="">hold a cell together</option>
            <option value="no">stand for themselves</option>
          </select></label
        >
        <label
          >Encoding
          <input
            class="form-control"
            list="encodings"
            placeholder="as told from the bytes"
            :value="how.encoding ?? ''"
            @change="say({ encoding: of($event) })" />
          <datalist id="encodings"><option v-for="one in ENCODINGS" :key="one" :value="one" /></datalist
        ></label>
      </template>
      <label
        >Only the range
        <input class="form-control" placeholder="B3:F200" :value="how.range ?? ''" @change="say({ range: of($event) })"
      /></label>
    </div>
  </details>
</template>

<style scoped>
details {
  margin: 2px 0 8px;
}
summary {
  cursor: pointer;
  width: max-content;
}
.ways {
  align-items: end;
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  padding: 6px 0;
}
.ways label {
  display: grid;
  gap: 2px;
}
.ways input {
  max-width: 190px;
}
</style>
